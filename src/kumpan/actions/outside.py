"""Asking a service outside Kumpan over HTTP: patient for a few seconds, in plain words where it fails."""

import json
from typing import Any
from urllib.error import URLError
from urllib.parse import urlsplit
from urllib.request import OpenerDirector, ProxyHandler, Request, build_opener

PATIENCE_S = 4.0
_MOST_BYTES = 400_000


class SourceFailed(Exception):
    """The service gave nothing of use; the message says why, in plain words."""


def _opener(url: str) -> OpenerDirector:
    """What opens an address: past any proxy where the service runs on this machine."""
    here = urlsplit(url).hostname in ("127.0.0.1", "localhost", "::1")
    return build_opener(ProxyHandler({})) if here else build_opener()


def fetch(what: str, url: str, body: dict[str, Any] | None = None) -> bytes:
    """What an address answers, asked by GET, or with a body by PUT. what: the service in words. Raises
    SourceFailed where it is silent, slow, refuses or answers too much.
    """
    if not url.startswith(("http://", "https://")):
        raise SourceFailed(f"{what}'s address is none of the web")
    try:
        request = Request(url)  # noqa: S310 (http and https alone, as said above)
        if body is not None:
            data = json.dumps(body).encode()
            request = Request(url, data, {"Content-Type": "application/json"}, method="PUT")  # noqa: S310
        with _opener(url).open(request, timeout=PATIENCE_S) as answer:
            found: bytes = answer.read(_MOST_BYTES + 1)
    except TimeoutError:
        raise SourceFailed(f"{what} is too slow") from None
    except (URLError, OSError, ValueError) as error:
        slow = isinstance(getattr(error, "reason", None), TimeoutError)
        raise SourceFailed(f"{what} is too slow" if slow else f"{what} does not answer") from None
    if len(found) > _MOST_BYTES:
        raise SourceFailed(f"{what} answers too much")
    return found
