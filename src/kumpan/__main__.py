"""``python -m kumpan``."""

import sys


def _main() -> int:
    try:
        from kumpan.cli import main  # inside: Ctrl-C while it loads is no error either

        return main()
    except KeyboardInterrupt:
        return 130  # as a shell says it


sys.exit(_main())
