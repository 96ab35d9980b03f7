"""What people have besides a password, for tests: an app's codes, and an institution (OpenID Connect's code flow with
PKCE, on loopback).

Its page of sign-in is one button for each person that it knows; whoever presses one is that person.
"""

import base64
import hashlib
import hmac
import json
import secrets
import struct
import threading
import time
from contextlib import contextmanager
from html import escape
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from urllib.parse import parse_qs, urlencode, urlsplit

import jwt
from cryptography.hazmat.primitives.asymmetric import rsa

CLIENT, SECRET = "velvet-heron", "known to both"
PEOPLE = {
    "s-1": {"preferred_username": "noor", "email": "noor@ellery.example", "email_verified": True},
    "s-2": {"preferred_username": "tomas", "email": "tomas@ellery.example", "email_verified": True},
}


def code_of(secret, at=None):
    """RFC 6238 as it stands there: HMAC-SHA-1 of the half minutes since 1970, cut to six digits."""
    count = struct.pack(">Q", int(time.time() if at is None else at) // 30)
    made = hmac.new(base64.b32decode(secret), count, hashlib.sha1).digest()
    start = made[-1] & 15
    return f"{(struct.unpack('>I', made[start : start + 4])[0] & 0x7FFFFFFF) % 10**6:06d}"


class Institution(ThreadingHTTPServer):
    """auth_time: what is told of when a person signed in, None for now; asked: what came in questions."""

    daemon_threads = True

    def __init__(self):
        super().__init__(("127.0.0.1", 0), _Handler)
        self.address = f"http://127.0.0.1:{self.server_port}"
        self.key = rsa.generate_private_key(public_exponent=65537, key_size=2048)
        self.codes, self.tokens, self.asked = {}, {}, []
        self.auth_time = None

    def came_back(self, asked, person):
        """Where a browser goes that was sent here, once its person signed in; "" for one who would not."""
        query = {name: values[0] for name, values in parse_qs(urlsplit(asked).query).items()}
        self.asked.append(query)
        if not person:
            said = {"error": "access_denied"}
        else:
            code = secrets.token_hex(8)
            self.codes[code] = (person, query)
            said = {"code": code}
        return f"{query['redirect_uri']}?{urlencode({**said, 'state': query['state']})}"

    def token(self, form):
        """What a code is worth, to whoever knows the secret and what its question was made from; once."""
        person, query = self.codes.pop(form["code"])
        made_from = hashlib.sha256(form["code_verifier"].encode()).digest()
        challenge = base64.urlsafe_b64encode(made_from).rstrip(b"=").decode()
        if (form["client_id"], form["client_secret"], challenge) != (CLIENT, SECRET, query["code_challenge"]):
            return None
        now = int(time.time())
        said = {"iss": self.address, "aud": CLIENT, "sub": person, "iat": now, "exp": now + 300}
        said["auth_time"] = now if self.auth_time is None else self.auth_time
        token = secrets.token_hex(8)
        self.tokens[token] = person
        signed = jwt.encode(said, self.key, algorithm="RS256", headers={"kid": "one"})
        return {"access_token": token, "token_type": "Bearer", "expires_in": 300, "id_token": signed}


class _Handler(BaseHTTPRequestHandler):
    server: Institution

    def do_GET(self):
        at, path = self.server.address, urlsplit(self.path).path
        if path == "/.well-known/openid-configuration":
            parts = ("authorization", "token", "userinfo")
            known = {f"{part}_endpoint": f"{at}/{part}" for part in parts} | {"issuer": at, "jwks_uri": f"{at}/keys"}
            self._answer({**known, "token_endpoint_auth_methods_supported": ["client_secret_post"]})
        elif path == "/authorization":
            links = "".join(
                f'<p><a href="{escape(self.server.came_back(self.path, person))}">{said["preferred_username"]}</a></p>'
                for person, said in PEOPLE.items()
            )
            self._answer(f"<!doctype html><title>Ellery Sound University</title><h1>Who are you?</h1>{links}")
        elif path == "/userinfo":
            person = self.server.tokens[self.headers["Authorization"].removeprefix("Bearer ")]
            self._answer({"sub": person, **PEOPLE[person]})

    def do_POST(self):
        form = parse_qs(self.rfile.read(int(self.headers["Content-Length"])).decode())
        given = self.server.token({name: values[0] for name, values in form.items()})
        self._answer(given or {"error": "invalid_client"}, 200 if given else 401)

    def _answer(self, said, status=200):
        kind, body = ("text/html", said) if isinstance(said, str) else ("application/json", json.dumps(said))
        self.send_response(status)
        self.send_header("Content-Type", kind)
        self.end_headers()
        self.wfile.write(body.encode())

    def log_message(self, *_):
        pass


@contextmanager
def institution():
    server = Institution()
    threading.Thread(target=server.serve_forever, daemon=True).start()
    try:
        yield server
    finally:
        server.shutdown()
        server.server_close()
