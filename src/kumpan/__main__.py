"""``python -m kumpan``."""

import signal
import sys

# Until there is something to end in good order, Ctrl-C ends at once: raised in the middle of an import it
# comes out as all sorts of errors.
signal.signal(signal.SIGINT, signal.SIG_DFL)

from kumpan.cli import main  # noqa: E402

sys.exit(main())
