"""Recording a decision, on a table with few of them and with many."""

import itertools
import time

MANY = 5_000


def decision_on_a_long_ledger(line) -> None:
    """One decision more, over the API, on a table with 5,000 of them against one with 5."""
    from django.test import Client
    from heron.routine import Step

    from server.accounts.models import User
    from server.ledger import services
    from server.server_tests.cases import stored

    user = User.objects.create(username="keeper")
    client = Client(SERVER_NAME="localhost")
    client.force_login(user)
    rows = "a,b,g\n" + "\n".join(f"{i % 977},{i % 31},{i % 4}" for i in range(MANY + 100))
    tables = []
    for many in (5, MANY):
        table = stored(user, rows, name=f"{many} decisions")
        services.repeat(
            user,
            table,
            [Step(i, "set-aside", ((i, i),), "a" if i % 2 else "", reason="by hand") for i in range(1, many + 1)],
        )
        table.refresh_from_db()
        tables.append(table)
    taken: list[list[float]] = [[], []]
    for turn, which in itertools.product(range(12), range(2)):  # by turns, so that a slow moment meets both
        table = tables[which]
        row = [MANY + 1 + turn]
        body = {"kind": "set-aside", "rows": row, "reason": "by hand", "revision": table.revision}
        begin = time.perf_counter()
        answer = client.post(f"/api/tables/{table.pk}/ledger", body, content_type="application/json")
        taken[which].append(time.perf_counter() - begin)
        assert answer.status_code == 200, answer.content
        table.revision += 1
    line(f"a decision on a table with {MANY:,} / with 5", min(taken[1]), min(taken[0]), most=2)
