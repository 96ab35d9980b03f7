"""Print the table of measures."""

import gzip
import os
import re
from pathlib import Path

ROOT = Path(__file__).parents[1]


def main() -> None:
    from bench import core, import_speed, ledger, over_http
    from bench.timing import line

    print(f"{'measure':<58} {'ours':>12} {'bare':>14} {'ratio':>9}   limit")
    core.summary_of_a_million(line)
    core.spread_of_many(line)
    core.density_of_a_million(line)
    core.ladder_of_many(line)
    core.expression_of_a_million(line)
    core.influence_of_a_million(line)
    core.distances_of_many(line)
    core.groups_of_a_million(line)
    core.pairs_of_a_million(line)
    core.differences_of_many()
    ledger.decision_on_a_long_ledger(line)
    with over_http.served() as server:
        over_http.spread_reading(server, line, server.table, "size", turns=30)
        over_http.first_view(server)
        large = over_http.large_table()
        over_http.spread_reading(server, line, large, "a", turns=8)
        over_http.grid_pages(server, large)
    import_speed.a_million_rows(line)
    page = (ROOT / "web/dist/index.html").read_text()  # what it does not name is fetched when it is wanted
    named = {ROOT / "web/dist" / path for path in re.findall(r"assets/[\w.-]+\.js", page)}
    scripts = sum(len(gzip.compress(file.read_bytes(), 9)) for file in named)
    print(f"JavaScript for the first view, gzipped: {scripts / 1000:.0f} kB (at most 300)")


if __name__ == "__main__":
    os.environ["HERON_DB_NAME"] = "heron_bench"
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
    from bench.database import prepared

    with prepared():
        main()
