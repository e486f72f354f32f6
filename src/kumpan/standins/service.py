"""What every stand-in is: a process that answers JSON on a free port of loopback until its input ends."""

import json
import sys
import threading
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any


class Handler(BaseHTTPRequestHandler):
    """Answers with JSON."""

    def answer(self, status: int, document: dict[str, Any]) -> None:
        """Answer, whether or not somebody still waits for it."""
        body = json.dumps(document).encode()
        try:
            self.send_response(status)
            self.send_header("Content-Type", "application/json")
            self.send_header("Content-Length", str(len(body)))
            self.end_headers()
            self.wfile.write(body)
        except OSError:
            return

    def log_message(self, format: str, *args: Any) -> None:
        """Nothing: it would fill the terminal."""


def serve_until_closed(handler: type[Handler], address: Path) -> int:
    """Answer until the input ends; the address stands in its file meanwhile."""
    server = ThreadingHTTPServer(("127.0.0.1", 0), handler)
    waiting = address.with_suffix(".new")
    waiting.write_text(f"http://127.0.0.1:{server.server_port}")
    waiting.replace(address)

    def watch() -> None:
        sys.stdin.read()
        server.shutdown()

    threading.Thread(target=watch, daemon=True).start()
    server.serve_forever(poll_interval=0.2)
    address.unlink(missing_ok=True)
    return 0
