import sys

from trelvo.server.command import main

sys.exit(main())
