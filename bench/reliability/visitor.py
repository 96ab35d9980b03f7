"""Somebody who uses a running server, for the trials beside this: python -m bench.reliability.… --server ADDRESS."""

import http.cookiejar
import json
import time
import urllib.error
import urllib.request
from dataclasses import dataclass
from typing import Any
from uuid import uuid4


@dataclass(frozen=True)
class Answer:
    status: int
    body: bytes
    seconds: float
    kind: str

    @property
    def said(self) -> Any:
        return json.loads(self.body)


class Visitor:
    """A signed-in person. Every answer counts: one that never comes has status 0."""

    def __init__(self, server: str) -> None:
        self._server = server
        self._cookies = http.cookiejar.CookieJar()
        self._opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor(self._cookies))
        self.get("/")

    def sign_up(self) -> None:
        said = {"name": f"trial-{uuid4().hex[:8]}", "password": uuid4().hex}
        answer = self.post("/api/session/sign-up", said)
        assert answer.status == 200, answer.body

    def twin(self) -> "Visitor":
        """The same person at another window."""
        twin = Visitor.__new__(Visitor)
        twin._server, twin._cookies, twin._opener = self._server, self._cookies, self._opener
        return twin

    def get(self, path: str, **headers: str) -> Answer:
        return self._ask(urllib.request.Request(self._server + path, headers=headers))

    def post(self, path: str, said: Any = None) -> Answer:
        return self._send("POST", path, json.dumps(said).encode(), "application/json")

    def delete(self, path: str) -> Answer:
        return self._send("DELETE", path, b"", "application/json")

    def bring(self, study: str, name: str, data: bytes) -> Answer:
        edge = uuid4().hex
        head = f'--{edge}\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n\r\n'
        body = head.encode() + data + f"\r\n--{edge}--\r\n".encode()
        return self._send("POST", f"/api/studies/{study}/uploads", body, f"multipart/form-data; boundary={edge}")

    def stored(self, study: str, name: str, data: bytes, wait: float = 120) -> dict[str, Any]:
        """The job of a table that was brought in and stored, once it has ended."""
        looked = self.bring(study, name, data)
        assert looked.status == 200, looked.body
        job = self.post(f"/api/uploads/{looked.said['upload_id']}/store", {"name": name, "choices": {}}).said
        ends = time.monotonic() + wait
        while job["state"] in ("waiting", "running") and time.monotonic() < ends:
            time.sleep(0.3)
            answer = self.get(f"/api/jobs/{job['id']}")
            job = answer.said if answer.status == 200 else job
        return dict(job)

    def _send(self, method: str, path: str, body: bytes, kind: str) -> Answer:
        token = next((cookie.value for cookie in self._cookies if cookie.name.endswith("csrftoken")), "") or ""
        headers = {"X-CSRFToken": token, "Content-Type": kind, "Referer": self._server + "/"}
        return self._ask(urllib.request.Request(self._server + path, data=body, headers=headers, method=method))

    def _ask(self, request: urllib.request.Request) -> Answer:
        began = time.perf_counter()
        try:
            with self._opener.open(request, timeout=120) as sent:
                status, body, kind = sent.status, sent.read(), sent.headers["Content-Type"]
        except urllib.error.HTTPError as error:
            status, body, kind = error.code, error.read(), error.headers["Content-Type"]
        except OSError:
            status, body, kind = 0, b"", ""
        return Answer(status, body, time.perf_counter() - began, kind or "")
