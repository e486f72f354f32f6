"""``python -m kumpan``."""

import sys

from kumpan.cli import main

sys.exit(main())
