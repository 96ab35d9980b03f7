"""A database of its own for the measures, made before and dropped after."""

import os
from collections.abc import Iterator
from contextlib import contextmanager

import psycopg


def _admin() -> psycopg.Connection:
    environ = os.environ
    return psycopg.connect(
        host=environ["HERON_DB_HOST"],
        port=environ["HERON_DB_PORT"],
        user=environ["HERON_DB_USER"],
        password=environ["HERON_DB_PASSWORD"],
        dbname="postgres",
        autocommit=True,
    )


@contextmanager
def prepared() -> Iterator[None]:
    name = os.environ["HERON_DB_NAME"]
    with _admin() as connection:
        connection.execute(f"drop database if exists {name} with (force)")
        connection.execute(f"create database {name}")
    import django
    from django.core.management import call_command
    from django.db import connections

    django.setup()
    try:
        call_command("migrate", verbosity=0)
        yield
    finally:
        connections.close_all()
        with _admin() as connection:
            connection.execute(f"drop database {name} with (force)")
