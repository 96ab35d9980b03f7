from ninja import Field, Schema

from server.plain_text import PlainText


class Credentials(Schema):
    name: PlainText = Field(min_length=1, max_length=150)
    password: PlainText = Field(min_length=1, max_length=256)


class SessionOut(Schema):
    name: str | None
    is_demo: bool
    demo_mode: bool
    upload_limit: int
