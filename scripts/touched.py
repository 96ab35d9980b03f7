"""The server tests that a change touches, one name after the other: python scripts/touched.py

The change is what differs from the branch that this one follows, or else from the commit before. A test module is
touched where it or what it imports directly changed, or where it is named after a folder that changed; what all stand
on (settings, addresses, the cases) touches all of them.
"""

import ast
import subprocess
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
TESTS = ROOT / "server" / "server_tests"
ALL = {"server/settings.py", "server/testing.py", "server/urls.py", "server/api.py", "server/server_tests/cases.py"}


def changed() -> set[str]:
    """The files of the change, by their place in the repository."""
    upstream = _git("merge-base", "HEAD", "@{upstream}") or _git("rev-parse", "HEAD~1")
    told = [
        _git("diff", "--name-only", upstream[0] if upstream else "HEAD"),
        _git("ls-files", "-o", "--exclude-standard"),
    ]
    return {file for files in told for file in files}


def touched(files: set[str]) -> list[str]:
    """The test modules that these files touch.

    >>> touched({"web/src/main.tsx"})
    []
    >>> touched({"server/server_tests/test_tokens.py"})
    ['server.server_tests.test_tokens']
    """
    python = {Path(file) for file in files if file.endswith(".py")}
    all_of_them = bool(files & ALL) or any("requirements" in file or "migrations" in file for file in files)
    names = {".".join(file.with_suffix("").parts).removeprefix("core.").removesuffix(".__init__") for file in python}
    folders = {part.rstrip("s") for file in python for part in (file.parent.name, file.stem)}
    found = []
    for test in sorted(TESTS.glob("test_*.py")):
        stem = test.stem.removeprefix("test_")
        own = f"server.server_tests.{test.stem}"
        if (
            all_of_them
            or own in names
            or _imports(test) & names
            or any(len(folder) > 3 and folder in stem for folder in folders)
        ):
            found.append(own)
    return found


def _imports(file: Path) -> set[str]:
    """What a module imports: modules, and names in them, which may be modules."""
    found: set[str] = set()
    for node in ast.walk(ast.parse(file.read_text())):
        if isinstance(node, ast.Import):
            found |= {alias.name for alias in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            found |= {node.module, *(f"{node.module}.{alias.name}" for alias in node.names)}
    return found


def _git(*asked: str) -> list[str]:
    ran = subprocess.run(["git", *asked], cwd=ROOT, capture_output=True, text=True, check=False)
    return ran.stdout.split("\n")[:-1] if ran.returncode == 0 else []


if __name__ == "__main__":
    print(*touched(changed()))
