"""``python -m mop_lantern`` is the command line."""

import sys

from mop_lantern.cli import main

sys.exit(main())
