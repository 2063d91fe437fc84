"""The recorder: order, ids, proposals and calls joined, limits, and the end."""

from __future__ import annotations

from typing import Any

from ferox.gateway.answering_questions import AnsweredQuestion
from ferox.gateway.recorder import Recorder
from ferox.servers.sources.source import QuestionAnswer
from tests.async_case import AsyncCase


def by_hand(content: Any) -> AnsweredQuestion:
    """A person's answer to a server's question."""
    return AnsweredQuestion(QuestionAnswer("accept", content), "person")


class Recording(AsyncCase):
    def recorder(self, most_calls: int = 9, most_model: int = 9) -> Recorder:
        self.heard: list[tuple[int, Any]] = []
        return Recorder(lambda n, e: self.heard.append((n, dict(e))), most_calls, most_model)

    async def test_events_are_heard_when_they_begin_and_when_they_end(self) -> None:
        recorder = self.recorder()
        call = recorder.call("t/a", {})
        recorder.reply("Done.", None)
        recorder.finish_call(call, result=1)
        self.assertEqual([n for n, _ in self.heard], [0, 1, 0])
        self.assertEqual((self.heard[0][1]["s"], self.heard[2][1]["result"]), (None, 1))
        self.assertGreaterEqual(call["s"] or -1, 0)
        self.assertEqual([e["kind"] for e in recorder.events], ["call", "reply"])

    async def test_ids_count_by_kind(self) -> None:
        recorder = self.recorder()
        model = recorder.model(voice="main", offered=[])
        calls = [recorder.call("t/a", {}) for _ in range(2)]
        self.assertEqual([e["id"] for e in (model, *calls)], ["m1", "c1", "c2"])

    async def test_a_call_takes_the_proposal_of_its_arguments_else_of_its_tool(self) -> None:
        recorder = self.recorder()
        recorder.remember_proposal("p1", "t/a", {"n": 1})
        recorder.remember_proposal("p2", "t/a", {"n": 2})
        recorder.remember_proposal("p3", "t/b", {})
        self.assertEqual(recorder.take_proposal("t/a", {"n": 2.0}), "p2")
        self.assertEqual(recorder.take_proposal("t/a", {"n": 7}), "p1")
        self.assertIsNone(recorder.take_proposal("t/a", {"n": 1}))
        self.assertEqual(recorder.take_proposal("t/b", {}), "p3")

    async def test_the_limit_is_reported_once(self) -> None:
        recorder = self.recorder(most_model=1)
        for _ in range(3):
            recorder.model(voice="main", offered=[])
        self.assertEqual(len(recorder.events), 2, "what comes after the limit is not noted")
        self.assertEqual(recorder.over.result(), "more than 1 requests to the model")

    async def test_time_begins_with_the_first_turn_unless_something_came_before(self) -> None:
        recorder = self.recorder()
        recorder._start -= 5
        recorder.start_clock()
        self.assertLess(recorder.now(), 1)
        recorder.model(voice="main", offered=[])
        recorder._start -= 5
        recorder.start_clock()
        self.assertGreater(recorder.now(), 4)

    async def test_texts_that_cannot_be_stored_are_repaired_and_counted(self) -> None:
        recorder = self.recorder()
        recorder.reply("tide \ud800", None)
        recorder.reply("tide", {"a": "\udfff"})
        self.assertEqual(recorder.repaired_texts, 2)
        self.assertEqual(self.heard[0][1]["text"], "tide \N{REPLACEMENT CHARACTER}")
        self.assertEqual(self.heard[1][1]["data"], {"a": "\N{REPLACEMENT CHARACTER}"})

    async def test_a_question_ends_once_and_not_after_the_trial(self) -> None:
        recorder = self.recorder()
        about: Any = {"server": "harbour", "call": "c1", "url": None}
        asked, late = recorder.question("Which?", **about), recorder.question("When?", **about)
        recorder.finish_question(asked, by_hand({"berth": "N1"}))
        self.assertEqual((asked["did"], asked["data"]), ("accept", {"berth": "N1"}))
        self.assertIsNotNone(asked["s"])
        recorder.end("done", None)
        recorder.finish_question(late, by_hand({}))
        self.assertIsNone(late["s"])

    async def test_what_comes_while_the_agent_is_being_closed_is_not_noted(self) -> None:
        recorder = self.recorder()
        call = recorder.call("t/a", {})
        recorder.stop_noting()
        recorder.model(voice="main", offered=[])
        recorder.finish_call(call, result=1)
        recorder.end("no_reply", "no reply within 5 s")
        self.assertEqual([e["kind"] for e in recorder.events], ["call", "end"])
        self.assertIsNone(call["s"])

    async def test_once_closed_nothing_changes(self) -> None:
        recorder = self.recorder()
        call = recorder.call("t/a", {})
        recorder.end("stopped", None)
        recorder.finish_call(call, result=1)
        recorder.reply("Done.", None)
        self.assertEqual((call["s"], call["result"]), (None, None))
        self.assertEqual((len(recorder.events), len(self.heard)), (2, 2))
