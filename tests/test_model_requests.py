"""What models were shown is kept in pieces, each once, masked and bounded; the rest is counted."""

from __future__ import annotations

import unittest
from typing import Any
from unittest import mock

from hypothesis import given
from hypothesis import strategies as st

from ferox.core.masking import MASK, Masker
from ferox.gateway.model_seam import model_requests as module
from ferox.gateway.model_seam.model_interface import ParsedRequest
from ferox.gateway.model_seam.model_requests import ModelRequests, SentAnswer

SYSTEM = {"role": "system", "content": "You are the duty officer."}
ASKS = {"role": "user", "content": "When is high water?"}
TOOLS: Any = {"high_water": ("Times of high water.", {"type": "object"})}


class Keeping(unittest.TestCase):
    def setUp(self) -> None:
        self.pieces: list[str] = []
        self.kept: dict[str, str] = {}
        self.requests: dict[str, dict[str, Any]] = {}
        self.keeping = self.made()

    def made(self, known: tuple[str, ...] = ()) -> ModelRequests:
        def piece(hashed: str, text: str) -> None:
            self.pieces.append(text)
            self.kept[hashed] = text

        return ModelRequests(piece, self.requests.__setitem__, Masker(known, names=False))

    def test_what_is_repeated_is_kept_once(self) -> None:
        self.keeping.keep_request(
            "m1", "chat/completions", {}, ParsedRequest([SYSTEM, ASKS], TOOLS), None
        )
        count = len(self.pieces)
        more = {"role": "assistant", "content": "At 14:31."}
        self.keeping.keep_request(
            "m2", "chat/completions", {}, ParsedRequest([SYSTEM, ASKS, more], TOOLS), more
        )
        self.assertEqual(len(self.pieces), count + 1)
        first, second = self.requests["m1"], self.requests["m2"]
        self.assertEqual(second["messages"][:2], first["messages"])
        self.assertEqual(second["tools"], first["tools"])
        self.assertEqual((first["answer"], second["answer"]), (None, second["messages"][2]))

    def test_parameters_are_all_that_is_no_message_tool_or_model(self) -> None:
        body = {"model": "m", "messages": [], "tools": [], "stream": True, "temperature": 0.25}
        self.keeping.keep_request("m1", "chat/completions", body, ParsedRequest([], {}), None)
        self.assertEqual(self.kept[self.requests["m1"]["parameters"]], '{"temperature": 0.25}')

    def test_known_secrets_are_masked(self) -> None:
        says = {"role": "user", "content": "The key is harbour-key-7."}
        self.made(("harbour-key-7",)).keep_request(
            "m1", "chat/completions", {}, ParsedRequest([says], {}), None
        )
        self.assertFalse([text for text in self.pieces if "harbour-key-7" in text])
        self.assertTrue([text for text in self.pieces if MASK in text])

    def test_what_was_sent_is_kept_masked_and_bounded_with_all_else_of_a_trial(self) -> None:
        keeping = self.made(("harbour-key-7",))
        none = ParsedRequest([], {})

        def sent(id: str, answer: SentAnswer) -> Any:
            keeping.keep_request(id, "chat/completions", {}, none, None, answer)
            return self.requests[id]["sent"]

        refused = SentAnswer(429, "application/json", "harbour-key-7 waits", "2")
        self.assertEqual(
            sent("m1", refused),
            {
                "status": 429,
                "type": "application/json",
                "body": f"{MASK} waits",
                "retry_after": "2",
            },
        )
        stream = SentAnswer(200, "text/event-stream", "y" * (module.LONGEST_PIECE + 1))
        self.assertEqual(
            sent("m2", stream),
            {"status": 200, "type": "text/event-stream", "left_out": module.LONGEST_PIECE + 1},
        )
        with mock.patch.object(module, "MOST_OF_A_TRIAL", 100):
            keeping = self.made()
        there = ["body" in sent(f"m{n}", SentAnswer(200, "text/plain", "z" * 40)) for n in range(3)]
        self.assertEqual(there, [True, True, False])
        keeping.keep_request("m9", "chat/completions", {}, none, None)
        self.assertIsNone(self.requests["m9"]["sent"])

    def test_what_is_too_long_is_counted(self) -> None:
        long = {"role": "tool", "content": "x" * module.LONGEST_PIECE}
        self.keeping.keep_request(
            "m1", "chat/completions", {}, ParsedRequest([ASKS, long], {}), None
        )
        _, text = self.requests["m1"]["messages"]
        self.assertRegex(text, r"^not kept: 2621\d\d$")
        self.assertEqual(
            max(map(len, self.pieces)), len(self.kept[self.requests["m1"]["messages"][0]])
        )

    def test_a_trial_has_room_for_so_much(self) -> None:
        with mock.patch.object(module, "MOST_OF_A_TRIAL", 400):
            keeping = self.made()
        for n in range(9):
            says = {"role": "user", "content": f"{n}" * 80}
            keeping.keep_request(f"m{n}", "chat/completions", {}, ParsedRequest([says], {}), None)
        self.assertLessEqual(sum(map(len, self.pieces)), 400)
        self.assertTrue(self.requests["m8"]["messages"][0].startswith("not kept: "))

    @given(st.lists(st.text(max_size=5), max_size=6))
    def test_pieces_are_equal_exactly_where_messages_are(self, words: list[str]) -> None:
        messages = [{"role": "user", "content": word} for word in words]
        self.keeping.keep_request("m1", "chat/completions", {}, ParsedRequest(messages, {}), None)
        hashes = self.requests["m1"]["messages"]
        for one, a in zip(words, hashes, strict=True):
            for other, b in zip(words, hashes, strict=True):
                self.assertEqual(one == other, a == b)
