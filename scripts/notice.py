"""NOTICE.md and bom.json: everything that the application runs on or ships, and under which licence, for people and as
a bill of materials (CycloneDX); a licence that does not go with ours is refused. Run by ./check lint, and by hand to
write them anew: python scripts/notice.py. Run by the build with --texts FILE, it writes the licences themselves of all
that the built interface holds."""

import json
import re
import sys
from importlib.metadata import distribution
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
LICENCE_FILE = re.compile(r"(licen[cs]e|notice|copying|ofl)\b", re.IGNORECASE)
NOTICE, BILL = ROOT / "NOTICE.md", ROOT / "bom.json"
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


def texts() -> str:
    """The licences of what the built interface holds, fonts included, as each package brings them."""
    found = []
    for name, version, licence in web_packages():
        folder = ROOT / "web" / "node_modules" / name
        files = [file for file in sorted(folder.glob("*")) if LICENCE_FILE.match(file.name)]
        said = "\n".join(file.read_text(errors="replace").strip() for file in files)
        found.append(f"{name} {version} ({licence})\n\n{said or 'Its package brings no text.'}\n")
    return f"\n{'-' * 100}\n\n".join(found)


def main() -> int:
    if sys.argv[1:2] == ["--texts"]:
        Path(sys.argv[2]).write_text(texts())
        return 0
    parts = {"On the server": python_packages(), "In the interface, type included": web_packages()}
    wrong = [(name, licence) for group in parts.values() for name, _, licence in group if not fits(licence)]
    for name, licence in wrong:
        print(f"{name}: {licence or 'no licence'} is not known to go with the MIT licence.")
    text = (
        "# Notice\n\nVelvet Heron is under the MIT licence (LICENSE). It runs on, and ships, the work of others, each\n"
        "part under its own licence; their texts come with the packages. Written by `scripts/notice.py`.\n\n"
        + "\n".join(written(title, group) for title, group in parts.items())
    )
    current = {NOTICE: text, BILL: bill(*parts.values())}
    if sys.argv[1:] == ["--check"]:
        old = [file.name for file, now in current.items() if not file.exists() or file.read_text() != now]
        for name in old:
            print(f"{name} is not what is used now: python scripts/notice.py writes it anew.")
        return 1 if wrong or old else 0
    for file, now in current.items():
        file.write_text(now)
    return 1 if wrong else 0


def bill(python: list[tuple[str, str, str]], web: list[tuple[str, str, str]]) -> str:
    """The bill of materials; without a time or a number of its own, so that it changes with what it lists alone."""
    import heron
    from cyclonedx.contrib.license.factories import LicenseFactory
    from cyclonedx.model.bom import Bom
    from cyclonedx.model.component import Component, ComponentType
    from cyclonedx.output.json import JsonV1Dot6
    from packageurl import PackageURL

    ours = Component(name="velvet-heron", version=heron.__version__, type=ComponentType.APPLICATION, bom_ref="ours")
    listed = [
        Component(
            name=name, version=version, type=ComponentType.LIBRARY, bom_ref=f"{kind}:{name}",
            purl=PackageURL(kind, *(name.rsplit("/", 1) if "/" in name else (None, name)), version),
            licenses=[LicenseFactory().make_from_string(licence)],
        )
        for kind, group in (("pypi", python), ("npm", web))
        for name, version, licence in group
    ]  # fmt: skip
    made = Bom(components=listed)
    made.metadata.component = ours
    made.register_dependency(ours, listed)
    said = json.loads(JsonV1Dot6(made).output_as_string())
    del said["serialNumber"], said["metadata"]["timestamp"]
    return json.dumps(said, indent=1) + "\n"


def fits(licence: str) -> bool:
    """Whether all parts of an expression are allowed, or one of those that may be chosen."""
    return bool(licence) and all(
        any(ALLOWED.fullmatch(each) for each in part.split(" OR ")) for part in licence.strip("()").split(" AND ")
    )


if __name__ == "__main__":
    sys.exit(main())
