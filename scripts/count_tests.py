"""How many tests of a Django test run passed and failed: python scripts/count_tests.py LOG"""

import re
import sys
from pathlib import Path

log = Path(sys.argv[1]).read_text(errors="replace")
ran = re.search(r"^Ran (\d+) tests? in", log, re.M)
verdict = re.search(r"^(OK|FAILED)(?: \((.*)\))?$", log, re.M)
if ran is None or verdict is None or ran[1] == "0":
    print("0 1")  # the run broke off, or found nothing to run
else:
    counts = dict(re.findall(r"(failures|errors|unexpected successes)=(\d+)", verdict[2] or ""))
    failed = sum(map(int, counts.values()))
    print(max(int(ran[1]) - failed, 0), failed)
