"""Who sends slowly, or too much, holds up nobody else."""

import socket
import time
import urllib.request
from http.client import HTTPResponse
from threading import Thread
from unittest import TestCase
from unittest.mock import patch

from server import serving


def application(environ, start_response):
    body = environ["wsgi.input"].read()
    start_response("200 OK", [("Content-Type", "text/plain")])
    return [f"{len(body)} bytes".encode()]


class Serving(TestCase):
    def setUp(self):
        for name, value in (("application", application), ("HEADER_SECONDS", 1), ("BODY_SECONDS", 1)):
            changed = patch.object(serving, name, value)
            changed.start()
            self.addCleanup(changed.stop)
        server = serving.server(
            0, threads=2, cleanup_interval=0.1, asyncore_loop_timeout=0.1, max_request_body_size=1000
        )
        self.port = int(server.effective_port)
        Thread(target=server.run, daemon=True).start()
        self.addCleanup(server.task_dispatcher.shutdown)
        self.addCleanup(server.close)

    def connected(self, text: bytes) -> socket.socket:
        connection = socket.create_connection(("127.0.0.1", self.port), 10)
        self.addCleanup(connection.close)
        connection.sendall(text)
        return connection

    def answer(self, data: bytes | None = None) -> str:
        with urllib.request.urlopen(f"http://127.0.0.1:{self.port}/", data, timeout=10) as answer:
            return answer.read().decode()

    def cut_off(self, connection: socket.socket) -> bool:
        """Whether the server ends a connection on which a byte comes now and then."""
        for _ in range(100):
            try:
                connection.sendall(b"x")
                connection.settimeout(0.1)
                if connection.recv(1_000) == b"":
                    return True
            except TimeoutError:
                continue
            except OSError:
                return True
        return False

    def test_many_that_send_a_byte_at_a_time_block_nobody_and_are_cut_off(self):
        headers = [self.connected(b"GET / HTTP/1.1\r\nHost: x\r\nX-Slow: ") for _ in range(20)]
        bodies = [self.connected(b"POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 500\r\n\r\n") for _ in range(20)]
        self.assertEqual(self.answer(), "0 bytes")
        self.assertEqual(self.answer(b"12345"), "5 bytes")
        for connection in (*headers[:2], *bodies[:2]):
            self.assertTrue(self.cut_off(connection))

    def test_a_proxy_is_believed_where_it_is_the_one_that_is_named(self):
        def told(environ, start_response):
            start_response("200 OK", [("Content-Type", "text/plain")])
            return [f"{environ['REMOTE_ADDR']} {environ['wsgi.url_scheme']}".encode()]

        for proxy, answer in (("127.0.0.1", "192.0.2.9 https"), ("10.0.0.1", "127.0.0.1 http")):
            named = {"trusted_proxy": proxy, "trusted_proxy_headers": {"x-forwarded-for", "x-forwarded-proto"}}
            with patch.object(serving, "application", told):
                behind = serving.server(0, threads=1, asyncore_loop_timeout=0.1, **named)
            Thread(target=behind.run, daemon=True).start()
            self.addCleanup(behind.task_dispatcher.shutdown)
            self.addCleanup(behind.close)
            asked = urllib.request.Request(
                f"http://127.0.0.1:{behind.effective_port}/",
                headers={"X-Forwarded-For": "192.0.2.9", "X-Forwarded-Proto": "https"},
            )
            with urllib.request.urlopen(asked, timeout=10) as said:
                self.assertEqual(said.read().decode(), answer)

    def test_a_request_that_comes_steadily_is_waited_for(self):
        with patch.object(serving, "BODY_SECONDS", 30):
            connection = self.connected(b"POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 500\r\n\r\n")
            for _ in range(5):
                connection.sendall(b"x" * 100)
                time.sleep(0.4)
            self.assertIn(b"500 bytes", connection.recv(1_000))

    def test_what_is_too_large_or_unreadable_is_a_problem_document(self):
        # Nothing more is sent than what is looked at, so that nothing that is unread resets the connection.
        for sent, status, code in (
            (b"POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 5000\r\n\r\n", 413, b"too-large"),
            (b"POST / HTTP/1.1\r\nHost: x\r\nContent-Length: many\r\n\r\n", 400, b"broken-request"),
            (b"GET / HTTP/1.1\r\nX: " + b"x" * 70_000 + b"\r\n\r\n", 400, b"broken-request"),
        ):
            connection = self.connected(sent)
            answer = HTTPResponse(connection)
            answer.begin()
            self.assertEqual((answer.status, answer.headers["Content-Type"]), (status, "application/problem+json"))
            self.assertIn(code, answer.read())
