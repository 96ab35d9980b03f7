"""The application over HTTP: python -m server.serving --port 8000, or --inherited for a socket that listens already.

Requests are taken in by one loop, whatever their number, and given to a thread once they are whole, so that who sends
slowly holds a connection and nothing else, and that only for a while.
"""

import argparse
import ctypes
import signal
import socket
import sys
import time
from contextlib import suppress
from typing import Any

from django.conf import settings
from waitress.channel import HTTPChannel
from waitress.parser import HTTPRequestParser
from waitress.server import TcpWSGIServer
from waitress.task import ErrorTask
from waitress.utilities import InternalServerError, RequestEntityTooLarge

from server import reader
from server.limits import FORM_OVERHEAD
from server.problems import oversize_problem, problem, unexpected
from server.wsgi import application

HEADER_SECONDS = 15
BODY_SECONDS = 30  # besides one for each BODY_RATE bytes that have come
BODY_RATE = 20_000
_LOOKED_AFTER = 2  # seconds
_TIDIED_EVERY = 20
_SETTINGS = {
    "threads": settings.WEB_THREADS, "connection_limit": 1_000, "asyncore_use_poll": True, "channel_timeout": 30,
    "cleanup_interval": _LOOKED_AFTER, "max_request_header_size": 65_536,
    # A large answer waits on disk for who reads slowly, not in a thread.
    "outbuf_high_watermark": 2**31, "clear_untrusted_proxy_headers": True, "ident": None,
}  # fmt: skip
# What a proxy says of the client is believed where it is the one that is named, and thrown away where it is not.
_PROXY = (
    {"trusted_proxy": settings.TRUSTED_PROXY, "trusted_proxy_headers": {"x-forwarded-for", "x-forwarded-proto"}}
    if settings.TRUSTED_PROXY
    else {}
)


class _Refused(ErrorTask):
    """What never reaches the application is refused as it would: by a problem document."""

    def execute(self) -> None:
        if isinstance(self.request.error, RequestEntityTooLarge):
            answer = oversize_problem(int(self.request.headers.get("CONTENT_LENGTH") or 0))
        elif isinstance(self.request.error, InternalServerError):
            answer = unexpected(None)
        else:
            answer = problem(400, "broken-request", "The request cannot be read.", remedy="Reload the page.")
        self.status = f"{answer.status_code} {answer.reason_phrase}"
        self.response_headers.append(("Content-Type", answer["Content-Type"]))
        self.set_close_on_finish()
        self.content_length = len(answer.content)
        self.write(answer.content)


class _Channel(HTTPChannel):
    """A connection, and since when the request that comes on it has been coming."""

    error_task_class = _Refused
    begun = 0.0

    def received(self, data: bytes) -> bool | None:
        if self.request is None:
            self.begun = time.time()
        return super().received(data)

    def is_late(self, now: float) -> bool:
        coming: HTTPRequestParser | None = self.request
        if coming is None:
            return False
        allowed = HEADER_SECONDS
        if coming.headers_finished:
            allowed += BODY_SECONDS + coming.body_bytes_received / BODY_RATE
        return now - self.begun > allowed


def give_back() -> None:
    """Give memory back to the system that lies free between what is held: readings come and go in all sizes."""
    with suppress(OSError, AttributeError):  # of another C library
        ctypes.CDLL("libc.so.6").malloc_trim(0)


class Server(TcpWSGIServer):
    """Closes, besides connections on which nothing happens, those whose request comes too slowly."""

    channel_class = _Channel
    _tidied = 0.0

    def maintenance(self, now: float) -> None:
        super().maintenance(now)
        if now - self._tidied > _TIDIED_EVERY:
            self._tidied = now
            give_back()
        for channel in list(self.active_channels.values()):
            if channel.is_late(now):
                channel.will_close = True


def server(port: int, *, host: str = "127.0.0.1", inherited: socket.socket | None = None, **changed: Any) -> Server:
    """The server, listening, on loopback unless it is said; `run` serves until it is told to end. inherited: a
    listening socket that several workers share, each of which takes what comes while it is free."""
    body = {"max_request_body_size": settings.UPLOAD_LIMIT + FORM_OVERHEAD}
    shared = {} if inherited is None else {"_sock": inherited, "bind_socket": False}
    return Server(application, listen=f"{host}:{port}", **{**_SETTINGS, **_PROXY, **body, **shared, **changed})


def main() -> None:
    asked = argparse.ArgumentParser(description="Serve the application, on loopback unless said otherwise.")
    way = asked.add_mutually_exclusive_group(required=True)
    way.add_argument("--port", type=int)
    way.add_argument(
        "--inherited", action="store_true", help="serve the listening socket that stands as standard input"
    )
    asked.add_argument(
        "--host", default="127.0.0.1", help="the address to listen at; a proxy with TLS stands before it"
    )
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    said = asked.parse_args()
    reader.warm()
    if said.inherited:
        listening = socket.socket(fileno=sys.stdin.fileno())
        server(listening.getsockname()[1], inherited=listening).run()
    else:
        server(said.port, host=said.host).run()


if __name__ == "__main__":
    main()
