"""Expectations of single stages of an agent, of the code that a model writes, and of costs."""

from __future__ import annotations

import unittest
from typing import Any

from ferox.core.scoring import score_trial
from tests.traces import call, checks, find, model, reply, script, trace, turn

LIST, ASSIGN, WINDOW = "harbour/list_berths", "harbour/assign_berth", "tides/tide_window"


def by_voice(id: str, t: float, voice: str, text: str | None = None, **more: Any) -> Any:
    """A request to the model by a stage."""
    return {**model(id, t, **more), "voice": voice, "text": text}


STORY = (
    turn(0),
    by_voice("m1", 0.1, "analyst", proposed=[("p1", LIST)], s=0.2),
    call("c1", LIST, 0.4, proposal="p1", result={"berths": ["N1", "N3"]}),
    by_voice("m2", 0.6, "analyst", "N1 and N3 are free.", s=0.2),
    by_voice("m3", 1.0, "writer", proposed=[("p2", ASSIGN)], s=0.2),
    call("c2", ASSIGN, 1.3, {"berth": "N1"}, proposal="p2"),
    by_voice("m4", 1.5, "writer", "Booked N1.", s=0.2),
    reply(1.8, "Booked N1."),
)


def story_checks(expect: dict[str, Any], *events: Any, **task: Any) -> dict[str, bool | None]:
    result = score_trial(script(expect, **task), trace(*(events or STORY), model_seam=True))
    return checks(result)


class Calls(unittest.TestCase):
    def test_a_call_by_the_stage_of_its_proposal(self) -> None:
        expect = {"calls": [{"as": "list", "tool": LIST, "by": "Analyst"},
                            {"as": "book", "tool": ASSIGN, "by": "analyst"}]}  # fmt: skip
        found = story_checks(expect)
        self.assertIs(found["list.by"], True)
        self.assertIs(found["book.by"], False)
        result = score_trial(script(expect), trace(*STORY, model_seam=True))
        assert result["went_wrong"] is not None
        message = "Assign_berth was called by writer, not by analyst"
        self.assertEqual(result["went_wrong"]["message"].lower(), message.lower())

    def test_of_two_calls_of_a_tool_each_goes_to_its_stage(self) -> None:
        expect = {"calls": [{"as": "second", "tool": LIST, "by": "writer"},
                            {"as": "first", "tool": LIST, "by": "analyst"}]}  # fmt: skip
        events = [
            turn(0),
            by_voice("m1", 0.1, "analyst", proposed=[("p1", LIST)]),
            call("c1", LIST, 0.4, proposal="p1"),
            by_voice("m2", 0.6, "writer", proposed=[("p2", LIST)]),
            call("c2", LIST, 0.9, proposal="p2"),
            reply(1.2),
        ]
        result = score_trial(script(expect), trace(*events, model_seam=True))
        self.assertEqual(result["matched"], {"second": ["c2"], "first": ["c1"]})
        self.assertEqual(result["verdict"], "pass")

    def test_who_called_is_not_tested_where_it_was_not_seen(self) -> None:
        expect = {"calls": [{"as": "list", "tool": LIST, "by": "analyst"}]}
        found = story_checks(expect, turn(0), call("c1", LIST, 1), reply(2))
        self.assertIsNone(found["list.by"])
        own = {"calls": [{"as": "note", "tool": "own/note", "by": "writer"}]}
        local = {**call("c1", "own/note", 1), "seam": "local", "by": "writer"}
        self.assertIs(story_checks(own, turn(0), local, reply(2))["note.by"], True)

    def test_never_by_one_stage(self) -> None:
        entries = [("harbour/*", "analyst"), (ASSIGN, "analyst"), (WINDOW, "writer")]
        never = {"never": [{"tool": tool, "by": stage} for tool, stage in entries]}
        found = story_checks(never)
        self.assertIs(found["never.harbour/*.by.analyst"], False)
        self.assertIs(found[f"never.{ASSIGN}.by.analyst"], True)
        self.assertIs(found[f"never.{WINDOW}.by.writer"], True)
        unknown = story_checks(never, turn(0), call("c1", ASSIGN, 1), reply(2))
        self.assertIsNone(unknown[f"never.{ASSIGN}.by.analyst"])

    def test_a_call_that_a_stage_must_not_make_is_extra(self) -> None:
        calls = [{"as": "list", "tool": LIST}, {"as": "book", "tool": ASSIGN}]
        expect = {"calls": calls, "never": [{"tool": ASSIGN, "by": "writer"}]}
        result = score_trial(script(expect), trace(*STORY, model_seam=True))
        self.assertEqual(result["extra"], ["c2"])
        # Precision 2/3, for the forbidden call counts as extra; recall 2/2.
        self.assertEqual(result["scores"]["choice"], 0.8)


class Steps(unittest.TestCase):
    """Stages as steps of a chain."""

    def ordered(self, *chain: Any, events: Any = ()) -> dict[str, bool | None]:
        calls = [{"as": "list", "tool": LIST}, {"as": "book", "tool": ASSIGN}]
        return story_checks({"calls": calls, "order": [list(chain)]}, *events)

    def test_all_that_one_does_comes_before_all_of_the_next(self) -> None:
        analyst, writer = {"by": "analyst"}, {"by": "writer"}
        self.assertIs(self.ordered(analyst, writer)["order.by:analyst.by:writer"], True)
        self.assertIs(self.ordered(writer, analyst)["order.by:writer.by:analyst"], False)

    def test_calls_before_a_stage_and_after_it(self) -> None:
        found = self.ordered("list", {"by": "writer"})
        self.assertIs(found["order.list.by:writer"], True)
        self.assertIs(self.ordered({"by": "analyst"}, "book")["order.by:analyst.book"], True)
        self.assertIs(self.ordered({"by": "writer"}, "book")["order.by:writer.book"], False)

    def test_a_stage_that_was_not_seen_is_not_tested(self) -> None:
        self.assertIsNone(self.ordered({"by": "editor"}, "book")["order.by:editor.book"])

    def test_a_call_that_is_missing_fails_the_step(self) -> None:
        events = [turn(0), by_voice("m1", 0.5, "writer", "Done."), reply(1)]
        found = self.ordered("list", {"by": "writer"}, events=events)
        self.assertIs(found["order.list.by:writer"], False)

    def test_a_stage_that_never_ended_came_before_nothing(self) -> None:
        events = [*STORY[:3], {**by_voice("m2", 0.6, "analyst"), "s": None}, *STORY[4:]]
        found = self.ordered({"by": "analyst"}, {"by": "writer"}, events=events)
        self.assertIs(found["order.by:analyst.by:writer"], False)


class Answers(unittest.TestCase):
    """What a stage handed on."""

    def test_its_last_words_without_a_proposal(self) -> None:
        expect = {
            "calls": [{"as": "list", "tool": LIST}],
            "answer": [
                {"by": "analyst", "mentions": {"from": "list", "path": "$.berths[*]"}},
                {"mentions": {"from": "list", "path": "$.berths[*]"}},
                {"by": "analyst", "values": "supported"},
                {"by": "writer", "not_matches": "N3"},
                {"by": "analyst", "matches": "^Booked"},
            ],
        }
        found = story_checks(expect)
        answers = [found[f"answer.{n}"] for n in range(5)]
        self.assertEqual(answers, [True, False, True, True, False])
        result = score_trial(script(expect), trace(*STORY, model_seam=True))
        message = find(result, "answer.4")["message"]
        self.assertEqual(message, "what analyst said does not match /^Booked/")

    def test_a_stage_that_said_nothing_fails_and_an_unseen_one_is_not_tested(self) -> None:
        expect = {"answer": [{"by": "editor", "matches": "x"}]}
        self.assertIs(story_checks(expect)["answer.0"], False)
        unseen = score_trial(script(expect), trace(*STORY, model_seam=False))
        self.assertIsNone(checks(unseen)["answer.0"])


class Code(unittest.TestCase):
    def coded(self, *texts: str, model_seam: bool = True, **rules: str) -> dict[str, Any]:
        events = [by_voice(f"m{n}", n + 1, "main", text) for n, text in enumerate(texts)]
        spec = script({"code": rules})
        result = score_trial(spec, trace(turn(0), *events, reply(9), model_seam=model_seam))
        return {c["id"]: c["passed"] for c in result["checks"]}

    def test_fenced_and_tagged_code_of_all_requests(self) -> None:
        fenced = "Thought: look.\n```py\nfor n in berths:\n    print(n)\n```"
        tagged = "<code>import os\nos.listdir('/')</code>"
        self.assertIs(self.coded(fenced, tagged, matches=r"for \w+ in")["code.matches"], True)
        self.assertIs(self.coded(fenced, tagged, never=r"\bos\.")["code.never"], False)
        self.assertIs(self.coded(fenced, never=r"\bos\.")["code.never"], True)
        self.assertIs(self.coded(fenced, matches="Thought")["code.matches"], False)

    def test_code_that_is_proposed_as_an_argument(self) -> None:
        event = by_voice("m1", 1, "main", proposed=[("p1", "own/run_python")])
        event["proposed"][0]["args"] = {"code": "eval('1')"}
        spec = script({"code": {"never": "eval"}})
        found = checks(score_trial(spec, trace(turn(0), event, reply(2), model_seam=True)))
        self.assertIs(found["code.never"], False)

    def test_no_code_and_code_that_was_not_seen(self) -> None:
        none = self.coded("Hello.", matches="x", never="x")
        self.assertEqual(none, {"code.matches": False, "code.never": True})
        unseen = self.coded("```\nx\n```", matches="x", never="x", model_seam=False)
        self.assertEqual(unseen, {"code.matches": None, "code.never": None})


class Costs(unittest.TestCase):
    """Money, first words, and what one stage may spend; worked by hand."""

    EUR = {"currency": "EUR", "per": 1000, "sent": 0.25, "answered": 1.25, "cached": 0.05}

    def spent(self, limit: Any, prices: Any, *events: Any) -> tuple[bool | None, str]:
        result = score_trial(
            script({}, budget=limit),
            trace(turn(0), *events, reply(9), model_seam=True, prices=prices),
        )
        (check,) = [c for c in result["checks"] if c["family"] == "latency"]
        return check["passed"], check["message"]

    def request(self, voice: str = "main", **more: Any) -> Any:
        usage = {"input": 1000, "output": 200, "cached": 400}
        return {**by_voice("m1", 1, voice), "usage": usage, **more}

    def test_money_by_the_prices_of_its_tokens(self) -> None:
        # 600 sent at 0.25, 400 kept at 0.05 and 200 answered at 1.25 per 1,000: 0.15+0.02+0.25.
        self.assertEqual(self.spent({"money": 0.42}, {"main": self.EUR}, self.request()),
                         (True, "it cost 0.42 EUR; at most 0.42"))  # fmt: skip
        self.assertIs(self.spent({"money": 0.41}, {"main": self.EUR}, self.request())[0], False)
        twice = [self.request(), self.request(model="other")]
        dollars = {**self.EUR, "currency": "USD"}
        both = {"main": self.EUR, "other": {**self.EUR, "sent": 0.5}}
        self.assertIs(self.spent({"money": 0.99}, both, *twice)[0], True)
        self.assertIs(self.spent({"money": 0.98}, both, *twice)[0], False)
        mixed = self.spent({"money": 9}, {"main": self.EUR, "other": dollars}, *twice)
        self.assertEqual(mixed, (None, "not tested: it cost sums in EUR and USD"))

    def test_a_price_that_is_not_known_is_never_nothing(self) -> None:
        passed, message = self.spent({"money": 9}, {}, self.request())
        self.assertIsNone(passed)
        self.assertIn("what the model main costs is not known", message)
        self.assertEqual(self.spent({"money": 0}, {"main": {"free": True}}, self.request()),
                         (True, "it cost nothing; at most 0"))  # fmt: skip
        untold = self.request(usage=None)
        self.assertIs(self.spent({"money": 9}, {"main": self.EUR}, untold)[0], False)

    def test_first_words_of_every_turn(self) -> None:
        events = [
            turn(0), {"t": 0.3, "kind": "partial", "text": "Well"}, reply(2),
            turn(3, "And?"), reply(3.5),
        ]  # fmt: skip
        for limit, wanted in ((500, True), (499, False)):
            spec = script({}, budget={"first_words_ms": limit})
            self.assertIs(checks(score_trial(spec, trace(*events)))["budget.first_words_ms"],
                          wanted)  # fmt: skip
        silent = trace(turn(0), {"t": 1, "kind": "end", "why": "no_reply", "reason": None})
        spec = script({}, budget={"first_words_ms": 500})
        self.assertIs(checks(score_trial(spec, silent))["budget.first_words_ms"], False)

    def test_what_one_stage_spends(self) -> None:
        events = [self.request("writer"), self.request("analyst"), self.request("analyst")]
        for limit, wanted in (
            ({"analyst": {"model_calls": 2}}, True), ({"analyst": {"model_calls": 1}}, False),
            ({"writer": {"tokens": 1200}}, True), ({"writer": {"tokens": 1199}}, False),
            ({"editor": {"tokens": 1}}, None),
        ):  # fmt: skip
            with self.subTest(limit):
                self.assertIs(self.spent({"by": limit}, {}, *events)[0], wanted)
