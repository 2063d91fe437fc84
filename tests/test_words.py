"""Faults, counts and names in words."""

from __future__ import annotations

import unittest
from typing import Any

from ferox.core.fault_words import describe_injection, fault_text
from ferox.core.naming import counted_noun, free_name
from ferox.core.tokens import estimate_tokens
from ferox.formats.fault import Fault


def fault(do: str, **fields: Any) -> Fault:
    return Fault.model_validate({"do": do, **({"call": 1} | fields)})


def every(do: str, **fields: Any) -> Fault:
    return Fault.model_validate({"do": do, "all": True, **fields})


class Faults(unittest.TestCase):
    def test_what_and_when(self) -> None:
        for scripted, text in (
            (fault("slow", ms=900), "slow by 900 ms at call 1"),
            (fault("model_slow", ms=1.5, call=3), "slow by 1.5 ms at request 3"),
            (fault("status", status=503), "status 503 at call 1"),
            (every("model_status", status=429), "status 429 at every request"),
            (fault("timeout", after_ms=800), "timeout after 800 ms at call 1"),
            (every("timeout"), "timeout without end at every call"),
            (fault("huge", bytes=50000), "huge, 50,000 bytes at call 1"),
            (Fault.model_validate({"do": "drop", "rate": 0.25}), "drop at a rate of 0.25"),
            (every("lost_session"), "lost session at every call"),
        ):
            with self.subTest(text):
                self.assertEqual(fault_text(scripted), text)

    def test_what_was_injected(self) -> None:
        faults = [fault("drop"), fault("status", status=503)]
        self.assertEqual(
            describe_injection("status", 1, faults),
            "injected by this task: status 503 at call 1",
        )
        self.assertEqual(
            describe_injection("drop", 0, faults), "injected by this task: drop at call 1"
        )

    def test_a_task_that_has_changed_since_or_a_foreign_trace_gives_the_kind_only(self) -> None:
        faults = [fault("drop"), fault("status", status=503)]
        for kind, place in (("status", 0), ("drop", 2), ("drop", 3), ("drop", None)):
            with self.subTest(kind=kind, place=place):
                self.assertEqual(
                    describe_injection(kind, place, faults), f"injected by Ferox: {kind}"
                )
        self.assertEqual(
            describe_injection("model_cut_off", None, []), "injected by Ferox: cut off"
        )
        self.assertIsNone(describe_injection(None, 0, faults))


class Names(unittest.TestCase):
    def test_counts(self) -> None:
        self.assertEqual(counted_noun(1, "tool"), "1 tool")
        self.assertEqual(counted_noun(0, "tool"), "0 tools")
        self.assertEqual(counted_noun(2, "entry", "entries"), "2 entries")

    def test_names_that_nothing_else_has(self) -> None:
        self.assertEqual(free_name("book", {"look"}), "book")
        self.assertEqual(free_name("book", {"book"}), "book-2")
        self.assertEqual(free_name("book", {"book", "book-2", "book-3"}), "book-4")
        self.assertEqual(free_name("a/b", {"a/b", "b-2"}, "b"), "b-3")

    def test_tokens(self) -> None:
        self.assertEqual([estimate_tokens(n) for n in (0, 3, 4, 401)], [0, 0, 1, 100])
