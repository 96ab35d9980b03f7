"""Fifty who decide on one table at once, each about rows of their own: python -m bench.reliability.writers SERVER

Nothing that was acknowledged may be missing, and hardly anything be refused: each decision stands on what its author
knew, which others have changed meanwhile, but nothing that it is about.
"""

import sys
from concurrent.futures import ThreadPoolExecutor
from statistics import median

from bench.reliability.visitor import Visitor

WRITERS, EACH = 50, 20


def main() -> None:
    visitor = Visitor(sys.argv[1])
    visitor.sign_up()
    study = visitor.post("/api/studies", {"title": "Writers"}).said["id"]
    rows = b"".join(b"%d,%d.5\n" % (i % 97, i) for i in range(WRITERS * EACH))
    table = visitor.stored(study, "rows.csv", b"a,b\n" + rows)["table_id"]

    def write(number: int) -> list[tuple[int, float]]:
        window, said = visitor.twin(), []
        for turn in range(EACH):
            row, revision = number * EACH + turn + 1, window.get(f"/api/tables/{table}").said["revision"]
            wish = {"kind": "set-aside", "rows": [row], "reason": "a trial", "revision": revision}
            answer = window.post(f"/api/tables/{table}/ledger", wish)
            said.append((answer.status, answer.seconds))
        return said

    with ThreadPoolExecutor(WRITERS) as pool:
        told = [one for some in pool.map(write, range(WRITERS)) for one in some]
    taken = sum(status == 200 for status, _ in told)
    refused = sum(status == 409 for status, _ in told)
    aside = visitor.get(f"/api/tables/{table}").said["n_aside"]
    print(f"{taken} taken, {refused} refused, {len(told) - taken - refused} other; rows set aside {aside}")
    print(f"a decision takes {median(seconds for _, seconds in told):.2f} s")


if __name__ == "__main__":
    main()
