"""Servers' questions in the middle of calls: answered by the script, noted, expected, judged."""

from __future__ import annotations

import unittest
from typing import Any

import mcp_types as types
from mcp import Client

from ferox.core.remarks import trial_remarks
from ferox.core.scoring import score_trial
from ferox.formats.suite import Task
from ferox.runs.scripted_user import ScriptedUser
from ferox.servers.sources.source import ServerQuestion
from ferox.workspace import load_workspace
from tests.async_case import AsyncCase
from tests.test_trial import PuppetLink, TrialCase
from tests.traces import call, checks, find, judged, reply, script, trace, turn

BOOK = "harbour/assign_berth"
ASKS = """
    - name: book
      input: {type: object, properties: {imo: {type: string}}}
      answers:
        - ask:
            message: "Which side for {{ args.imo }}?"
            schema: {type: object, properties: {side: {type: string}}, required: [side]}
          give: {berth: "{{ asked.side }}1"}
    - name: pay
      answers:
        - ask: {message: Pay the dues, url: "https://pay.skerrow.example/{{ call.number }}"}
          give: {paid: "{{ asked.action }}"}
"""


class Asked(TrialCase):
    """A puppet whose client takes no questions, or takes them itself."""

    def setUp(self) -> None:
        super().setUp()
        path = self.root / "servers/tides.yaml"
        path.write_text(path.read_text().rstrip() + ASKS)

    async def called(self, tool: str, answers: str, **client: Any) -> Any:
        """The trace of a trial in which the agent calls a tool, under these `answers`."""
        self.add(f"    answers: {answers}\n")

        async def say(text: str, hooks: Any, setup: Any) -> str:
            async with Client(setup.servers["tides"], **client) as server:
                found: Any = await server.call_tool(tool, {"imo": "7"} if tool == "book" else {})
            return str(found.content[0].text)

        return await self.trial(PuppetLink(say))

    def question(self, trace: Any) -> Any:
        (event,) = [e for e in trace["events"] if e["kind"] == "question"]
        return event

    async def test_the_script_answers_what_the_client_cannot_take(self) -> None:
        entry = (
            "{as: side, server: tides, if_message: {matches: '(?i)which side'}, give: {side: N}}"
        )
        made = await self.called("book", f"[{{if_message: Other, decline: true}}, {entry}]")
        event = self.question(made)
        self.assertEqual(event["text"], "Which side for 7?")
        self.assertEqual((event["did"], event["data"]), ("accept", {"side": "N"}))
        self.assertEqual((event["by"], event["rule"], event["name"]), ("script", 1, "side"))
        self.assertEqual((event["server"], event["call"]), ("tides", "c1"))
        (answered,) = [e for e in made["events"] if e["kind"] == "call"]
        self.assertEqual(answered["result"], {"berth": "N1"})
        self.assertEqual([r.kind for r in trial_remarks(made) if "question" in r.kind], [])

    async def test_what_no_entry_fits_is_declined_and_said(self) -> None:
        made = await self.called("book", "[{server: harb*, give: {side: N}}]")
        event = self.question(made)
        self.assertEqual((event["did"], event["by"], event["rule"]), ("decline", "script", None))
        remarks = [r.text for r in trial_remarks(made) if r.kind == "declined_questions"]
        self.assertEqual(len(remarks), 1)
        self.assertIn("“Which side for 7?”".strip("“”"), remarks[0])

    async def test_a_question_that_sends_to_an_address(self) -> None:
        made = await self.called("pay", "[{accept: true}]")
        event = self.question(made)
        self.assertEqual(event["url"], "https://pay.skerrow.example/1")
        self.assertEqual(event["did"], "accept")
        (answered,) = [e for e in made["events"] if e["kind"] == "call"]
        self.assertEqual(answered["result"], {"paid": "accept"})

    async def test_a_client_that_takes_questions_answers_them_itself(self) -> None:
        async def elicit(context: Any, params: types.ElicitRequestParams) -> types.ElicitResult:
            return types.ElicitResult(action="accept", content={"side": "S"})

        for era in ("legacy", "auto"):
            with self.subTest(era):
                made = await self.called(
                    "book", "[{give: {side: N}}]", mode=era, elicitation_callback=elicit
                )
                event = self.question(made)
                self.assertEqual((event["by"], event["data"]), ("client", {"side": "S"}))
                self.assertNotIn("rule", event)
                self.change("tasks/small.yaml", "    answers: [{give: {side: N}}]\n", "")

    def test_mistakes_are_told(self) -> None:
        for answers, words in (
            ("[{give: {}, decline: true}]", "holds one of give, accept, decline, cancel"),
            ("[{if_message: {mathces: x}, decline: true}]", "did you mean `matches`?"),
            ("[{server: tide, decline: true}]", "no server of this suite; did you mean `tides`?"),
            ("[{if_message: {from: high, path: $}, accept: true}]", "no result can be looked at"),
        ):
            self.add(f"    answers: {answers}\n")
            with (
                self.subTest(answers),
                self.assertRaisesRegex(Exception, words.replace("?", r"\?")),
            ):
                load_workspace(self.root)
            self.change("tasks/small.yaml", f"    answers: {answers}\n", "")


class ScriptedAnswers(AsyncCase):
    def user(self, *answers: Any, parts: Any = None) -> ScriptedUser:
        body = {"task": "t", "answers": list(answers)}
        task = Task.model_validate({**body, **({"parts": parts} if parts else {"say": "Go."})})
        return ScriptedUser(task)

    async def given(self, user: ScriptedUser, message: str = "Which?") -> tuple[str, Any]:
        asked = ServerQuestion(message, {})
        answered = await user.answer_question("harbour", asked)
        return answered.answer.action, answered.answer.content

    async def test_at_most(self) -> None:
        user = self.user({"give": {"n": 1}, "at_most": 1}, {"cancel": True, "at_most": 1})
        self.assertEqual(await self.given(user), ("accept", {"n": 1}))
        self.assertEqual(await self.given(user), ("cancel", {}))
        self.assertEqual(await self.given(user), ("decline", {}))

    async def test_a_parts_own_entries_come_first(self) -> None:
        parts = [{"say": "a", "answers": [{"give": {"of": "part"}}]}, {"say": "b"}]
        user = self.user({"give": {"of": "task"}}, parts=parts)
        await user.opening_words(0)
        self.assertEqual(await self.given(user), ("accept", {"of": "part"}))
        await user.opening_words(1)
        self.assertEqual(await self.given(user), ("accept", {"of": "task"}))


def question(t: float, name: str | None, data: Any = None, **more: Any) -> Any:
    return {
        "t": t, "kind": "question", "s": 0.1, "text": "Which side?", "server": "harbour",
        "did": "accept" if name else "decline", "data": data, "by": "script",
        "rule": 0 if name else None, "name": name, **more,
    }  # fmt: skip


class Expected(unittest.TestCase):
    """What a script may expect of questions, worked by hand."""

    def judged(self, expect: dict[str, Any], *events: Any) -> Any:
        answers = [{"as": "side", "give": {"berth": "N1"}}]
        return checks(judged(expect, turn(), *events, reply(9), answers=answers))

    def test_the_values_given_are_used_as_given(self) -> None:
        args = {"berth": {"from": "side", "path": "$.berth"}}
        expect = {"calls": [{"as": "book", "tool": BOOK, "args": args}]}
        given = question(1, "side", {"berth": "N1"}, call="c0")
        self.assertIs(self.judged(expect, given, call("c1", BOOK, 2, {"berth": "N1"}))
                      ["book.args.berth"], True)  # fmt: skip
        self.assertIs(self.judged(expect, given, call("c1", BOOK, 2, {"berth": "N2"}))
                      ["book.args.berth"], False)  # fmt: skip
        self.assertIs(self.judged(expect, call("c1", BOOK, 2, {"berth": "N1"}))
                      ["book.args.berth"], False)  # fmt: skip

    def test_asked_before_a_call(self) -> None:
        expect = {"calls": [{"as": "book", "tool": BOOK}], "order": [["side", "book"]]}
        booked = call("c1", BOOK, 2)
        self.assertIs(self.judged(expect, question(1, "side"), booked)["order.side.book"], True)
        self.assertIs(self.judged(expect, booked, question(3, "side"))["order.side.book"], False)
        self.assertIs(self.judged(expect, booked)["order.side.book"], False)
        # In the middle of the call, whose answer waits for it.
        within = question(2.02, "side", call="c1")
        self.assertIs(self.judged(expect, booked, within)["order.side.book"], True)

    def test_a_question_that_was_never_asked_is_named(self) -> None:
        expect = {"calls": [{"as": "book", "tool": BOOK}], "order": [["side", "book"]]}
        answers = [{"as": "side", "give": {}}]
        result = judged(expect, turn(), call("c1", BOOK, 2), reply(3), answers=answers)
        self.assertEqual(find(result, "order.side.book")["message"], "side was not asked")

    def test_a_question_after_a_call(self) -> None:
        expect = {"calls": [{"as": "book", "tool": BOOK}], "order": [["book", "side"]]}
        self.assertIs(self.judged(expect, call("c1", BOOK, 1), question(3, "side"))
                      ["order.book.side"], True)  # fmt: skip

    def test_at_most_so_many(self) -> None:
        expect = {"at_most": {"questions": 1}}
        once = self.judged(expect, question(1, "side"))
        twice = self.judged(expect, question(1, "side"), question(2, None))
        self.assertEqual([once["at_most.questions"], twice["at_most.questions"]], [True, False])

    def test_a_trace_from_elsewhere_does_not_tell(self) -> None:
        spec = script({"at_most": {"questions": 1}})
        result = score_trial(spec, trace(turn(), reply(1), not_seen=["approvals"]))
        self.assertIsNone(checks(result)["at_most.questions"])
