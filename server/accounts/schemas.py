from ninja import Field, Schema


class Credentials(Schema):
    name: str = Field(min_length=1, max_length=150)
    password: str = Field(min_length=1, max_length=256)


class SessionOut(Schema):
    name: str | None
    is_demo: bool
    demo_mode: bool
    upload_limit: int
