"""Answers that are kept: bounded, worked once however many ask, and never a failure."""

import unittest
from concurrent.futures import ThreadPoolExecutor
from threading import Barrier, Event

from server.caching import Kept


class Caching(unittest.TestCase):
    def test_the_longest_unasked_goes_first_and_what_is_too_large_is_not_kept(self) -> None:
        kept: Kept[bytes] = Kept(10, len)
        worked: list[str] = []

        def ask(question: str, size: int = 4) -> None:
            kept.answer(question, lambda: worked.append(question) or bytes(size))

        for question in ("a", "b", "a", "c", "a", "b"):  # c takes the place of b, since a was asked for after it
            ask(question)
        self.assertEqual(worked, ["a", "b", "c", "b"])
        for _ in range(2):
            ask("large", 11)
        self.assertEqual(worked[4:], ["large", "large"])

    def test_a_question_asked_by_many_at_once_is_worked_once(self) -> None:
        kept: Kept[int] = Kept(10)
        begun, worked = Barrier(8), []

        def ask(_: int) -> int:
            begun.wait()
            return kept.answer("q", lambda: worked.append(1) or sum(range(200_000)))

        with ThreadPoolExecutor(8) as pool:
            self.assertEqual(len(set(pool.map(ask, range(8)))), 1)
        self.assertEqual(len(worked), 1)

    def test_a_failure_is_not_kept_and_whoever_waited_for_it_asks_anew(self) -> None:
        kept: Kept[str] = Kept(10)
        at_work, waiting = Event(), Event()

        def fail() -> str:
            at_work.set()
            waiting.wait(10)
            raise ValueError("no answer")

        with ThreadPoolExecutor(2) as pool:
            first = pool.submit(kept.answer, "q", fail)
            at_work.wait(10)
            second = pool.submit(kept.answer, "q", lambda: "an answer")
            waiting.set()
            self.assertIsInstance(first.exception(10), ValueError)
            self.assertEqual(second.result(10), "an answer")
