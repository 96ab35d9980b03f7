"""Best of several runs, and a line of the table."""

from collections.abc import Callable
from time import perf_counter


def best(work: Callable[[], object], *, times: int = 5) -> float:
    """Seconds of the fastest run: what the work costs when nothing else is in the way."""
    result = []
    for _ in range(times):
        start = perf_counter()
        work()
        result.append(perf_counter() - start)
    return min(result)


def line(name: str, ours: float, bare: float, *, most: float | None = None, least: float | None = None) -> None:
    ratio = ours / bare if least is None else bare / ours
    limit = f"at most {most:g}" if most is not None else f"at least {least:g}"
    holds = ratio <= most if most is not None else ratio >= (least or 0)
    verdict = "ok" if holds else "BEYOND"
    print(f"{name:<58} {1000 * ours:9.1f} ms {1000 * bare:11.1f} ms {ratio:9.2f}   {limit:<14} {verdict}")
