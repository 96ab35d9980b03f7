"""What ./start and ./serve are tried in: a folder of their own, with what was built before, and a port."""

import os
import shutil
import socket
import tempfile
from pathlib import Path
from unittest import TestCase

ROOT = Path(__file__).resolve().parents[2]


def a_folder_of_its_own(test: TestCase) -> tuple[Path, int, dict[str, str]]:
    """The folder, the port, and the environment that leads there; the folder goes with the test."""
    var = Path(tempfile.mkdtemp())
    test.addCleanup(shutil.rmtree, var, ignore_errors=True)
    var.chmod(0o755)  # accounts of the database and of nginx go through it
    shutil.copytree(ROOT / "var" / "stamps", var / "stamps", ignore=shutil.ignore_patterns("postgres", "check"))
    (var / "static").symlink_to(ROOT / "var" / "static")
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    kept = {name: value for name, value in os.environ.items() if not name.startswith(("HERON_", "DJANGO_"))}
    return var, port, {**kept, "HERON_VAR": str(var)}
