"""NOTICE.md: everything that the application runs on or ships, and under which licence; one that does not go with ours
is refused. Run by ./check lint, and by hand to write it anew: python scripts/notice.py"""

import json
import re
import sys
from importlib.metadata import distribution
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
NOTICE = ROOT / "NOTICE.md"
# Licences under which a part may be used by, or shipped with, a program under the MIT licence. Parts under the LGPL are
# used as they are, from their own packages, and can be replaced; files under the MPL are not changed.
ALLOWED = re.compile(
    r"(MIT|MIT-0|MIT-CMU|ISC|0BSD|BSD|BSD-[23]-Clause|Apache-2\.0|PSF-2\.0|Zlib|CC0-1\.0|ZPL-2\.1|OFL-1\.1|LGPL-3\.0-only|LGPL-2\.1-or-later|"
    r"MPL-2\.0|Unlicense|Bitstream-Vera)"
)
# Where a package says it in words of its own, or several ways.
KNOWN = {
    "PSFL": "PSF-2.0", "2-clause BSD": "BSD-2-Clause", "BSD License": "BSD", "MIT License": "MIT", "ZPL 2.1": "ZPL-2.1",
    "BSD-derived (http://www.repoze.org/LICENSE.txt)": "BSD", "(MIT OR GPL-3.0-or-later)": "MIT",
    "(MPL-2.0 OR Apache-2.0)": "Apache-2.0",
    "Apache 2.0": "Apache-2.0", "Python Software Foundation License": "PSF-2.0",
    "BSD-3-Clause, Apache-2.0, dependency licenses": "BSD-3-Clause",
}  # fmt: skip
CHOSEN = {
    "django-prometheus": "Apache-2.0",
    "fido2": "BSD-2-Clause AND Apache-2.0 AND MPL-2.0",
    "odfpy": "Apache-2.0",
    "pyphen": "LGPL-2.1-or-later",
    "dejavu-fonts-ttf": "Bitstream-Vera",
}  # where a package names several, or none in short


def python_packages() -> list[tuple[str, str, str]]:
    found = []
    for line in (ROOT / "requirements" / "base.txt").read_text().splitlines():
        named = re.match(r"([A-Za-z0-9_.-]+)==", line)
        if named is None:
            continue
        said = distribution(named[1]).metadata
        classes = [
            each.rpartition(" :: ")[2] for each in said.get_all("Classifier") or [] if each.startswith("License")
        ]
        short = said.get("License-Expression") or said.get("License") or ""
        words = short if 0 < len(short) < 60 else " OR ".join(classes)
        found.append((named[1], str(said["Version"]), CHOSEN.get(named[1]) or KNOWN.get(words, words)))
    return found


def web_packages() -> list[tuple[str, str, str]]:
    """What the built interface holds: all packages of the lock file that are not for building alone."""
    locked = json.loads((ROOT / "web" / "package-lock.json").read_text())["packages"]
    found = {}
    for path, package in locked.items():
        if path and not package.get("dev") and not package.get("optional"):
            name = path.rpartition("node_modules/")[2]
            words = package.get("license", "")
            found[name] = (name, package["version"], CHOSEN.get(name) or KNOWN.get(words, words))
    return sorted(found.values())


def written(title: str, parts: list[tuple[str, str, str]]) -> str:
    lines = "".join(f"| {name} | {version} | {licence} |\n" for name, version, licence in parts)
    return f"## {title}\n\n| package | version | licence |\n| --- | --- | --- |\n{lines}"


def main() -> int:
    parts = {"On the server": python_packages(), "In the interface, type included": web_packages()}
    wrong = [(name, licence) for group in parts.values() for name, _, licence in group if not fits(licence)]
    for name, licence in wrong:
        print(f"{name}: {licence or 'no licence'} is not known to go with the MIT licence.")
    text = (
        "# Notice\n\nVelvet Heron is under the MIT licence (LICENSE). It runs on, and ships, the work of others, each\n"
        "part under its own licence; their texts come with the packages. Written by `scripts/notice.py`.\n\n"
        + "\n".join(written(title, group) for title, group in parts.items())
    )
    if sys.argv[1:] == ["--check"]:
        current = NOTICE.exists() and NOTICE.read_text() == text
        if not current:
            print("NOTICE.md is not what is used now: python scripts/notice.py writes it anew.")
        return 1 if wrong or not current else 0
    NOTICE.write_text(text)
    return 1 if wrong else 0


def fits(licence: str) -> bool:
    """Whether all parts of an expression are allowed, or one of those that may be chosen."""
    return bool(licence) and all(
        any(ALLOWED.fullmatch(each) for each in part.split(" OR ")) for part in licence.strip("()").split(" AND ")
    )


if __name__ == "__main__":
    sys.exit(main())
