"""The agent as one file that Python runs by itself, so that a machine under test needs nothing but Python."""

import io
import zipfile
from functools import lru_cache
from pathlib import Path

import trelvo

# A date of its own would make another file of the same agent at every start.
_DATE = (2026, 1, 1, 0, 0, 0)
_MAIN = "import sys\n\nfrom trelvo.agent.__main__ import main\n\nsys.exit(main())\n"


@lru_cache(maxsize=1)
def agent_file() -> bytes:
    """A zip that `python3 FILE` runs: the package `trelvo.agent` and the way into it."""
    house = Path(trelvo.__file__).parent
    content = io.BytesIO()
    with zipfile.ZipFile(content, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(zipfile.ZipInfo("__main__.py", _DATE), _MAIN)
        for file in [house / "__init__.py", *sorted((house / "agent").glob("*.py"))]:
            archive.writestr(zipfile.ZipInfo(file.relative_to(house.parent).as_posix(), _DATE), file.read_bytes())
    return content.getvalue()
