"""python -m trelvo.server COMMAND: Django's commands, and Trelvo's own (serve, load_demo)."""

import os
import sys

from django.core.management import execute_from_command_line

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "trelvo.server.settings")
execute_from_command_line(sys.argv)
