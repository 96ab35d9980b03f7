#!/usr/bin/env bash
# What the application stands on that is older than what there is, and what of it has known faults. Needs a network; run
# it every month, and when a fault is told of. To bring a package up: its line in requirements/ or web/package.json,
# ./check, and scripts/notice.py.
. "$(dirname "${BASH_SOURCE[0]}")/setup.sh"

ensure_python
ensure_web_packages
say "Python packages that are behind:"
"$PYTHON" -m pip list --outdated --disable-pip-version-check 2>/dev/null || true
say "Packages of the interface that are behind:"
(cd web && npm outdated) || true
say "Known faults of the server's packages:"
[ -x "$VAR/audit/bin/pip-audit" ] || { python3 -m venv "$VAR/audit" && "$VAR/audit/bin/pip" install -q --disable-pip-version-check pip-audit 2>/dev/null; }
"$VAR/audit/bin/pip-audit" --no-deps --disable-pip -r requirements/base.txt || true
say "Known faults of the interface's packages:"
(cd web && npm audit --omit=dev) || true
