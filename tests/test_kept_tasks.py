"""A conversation by hand kept as a task: the same agent passes it, another one does not."""

from __future__ import annotations

import json
from typing import Any

from mcp import Client

from ferox.agents.links.link import AgentHooks, AgentSetup, ApprovalDecision
from ferox.core.scoring import score_trial
from ferox.core.script import compile_script
from ferox.formats.suite import Suite
from ferox.gateway.answering_questions import AnsweredQuestion
from ferox.gateway.gateway import Gateway
from ferox.intake.yaml_text import read_yaml_text
from ferox.making.drafting import TaskDraft, draft_task
from ferox.runs.overrides import Overrides
from ferox.runs.trial import TrialRun, TrialSurroundings
from ferox.runs.trial_by_hand import job_by_hand, snapshot_by_hand
from ferox.runs.trial_user import UserWords
from ferox.servers.sources.source import QuestionAnswer, ServerQuestion
from ferox.workspace import load_workspace
from ferox.workspace.appending import with_task
from tests.test_trial import PuppetLink, TrialCase

REGISTER = """
    ferox: 1
    server: register
    mock:
      state: {bookings: []}
      tools:
        - name: list_berths
          annotations: {readOnlyHint: true}
          answers: [{give: {free: [N1, N3]}}]
        - name: book
          input: {type: object, properties: {berth: {type: string}, day: {type: string}}}
          answers:
            - if: "args.berth == 'N1'"
              ask:
                message: "Which side of {{ args.berth }}?"
                schema: {type: object, properties: {side: {type: string}}}
              give: {booking: "BK-{{ asked.side }}"}
              change: [{op: add, path: /bookings/-, value: "{{ args.berth }}"}]
            - error: "No such berth."
"""


class Person:
    """Who speaks with the agent by hand: says these words, edits the approval, answers."""

    def __init__(self, *words: str, edit: dict[str, Any] | None = None) -> None:
        self.words, self.edit, self.hold = list(words), edit or {}, None

    async def opening_words(self, part: int) -> UserWords | None:
        return UserWords(self.words.pop(0)) if self.words else None

    async def answer_reply(self, part: int, reply: str) -> UserWords | None:
        return await self.opening_words(part)

    async def answer_question(self, server: str, question: ServerQuestion) -> AnsweredQuestion:
        return AnsweredQuestion(QuestionAnswer("accept", {"side": "east"}), "person")

    async def approve_call(self, tool: str, args: dict[str, Any]) -> ApprovalDecision:
        return ApprovalDecision(True, {**args, **self.edit} if self.edit else None)


def desk(*, asks_user: bool = True, asks_approval: bool = True, berth: str = "N1") -> Any:
    """An agent that looks for a berth, asks, has the call approved, and books."""

    async def say(text: str, hooks: AgentHooks, setup: AgentSetup) -> str:
        async with Client(setup.servers["register"]) as client:
            if asks_user and "free" not in seen:
                found: Any = await client.call_tool("list_berths", {})
                seen["free"] = json.loads(found.content[0].text)["free"]
                return f"Free are {', '.join(seen['free'])}. Would you like me to book {berth}?"
            args = {"berth": berth, "day": setup.now[:10]}
            if asks_approval:
                decided = await hooks.ask("1", "register/book", args)
                args = decided.args or args
            made: Any = await client.call_tool("book", args)
        return f"Done: {json.loads(made.content[0].text)['booking']}."

    seen: dict[str, Any] = {}
    return say


class Keeping(TrialCase):
    def setUp(self) -> None:
        super().setUp()
        self.write("servers/register.yaml", REGISTER)
        (self.root / "tasks/small.yaml").unlink()
        self.clock = "2031-03-14T06:30:00Z"

    async def by_hand(self, say: Any, person: Person) -> Any:
        snapshot = snapshot_by_hand(load_workspace(self.root), "plain", Overrides())
        async with Gateway().serve() as gateway:
            around = TrialSurroundings(gateway=gateway, link=PuppetLink(say))
            return await TrialRun(job_by_hand(snapshot, "plain"), around, person).carry_out()

    async def replayed(self, made: TaskDraft, say: Any) -> Any:
        """The result of the kept task with an agent, on a later day."""
        suite = Suite.model_validate({
            "ferox": 1, "suite": "small", "servers": {"register": "mock"},
            "clock": self.clock, "tasks": [{**made.task, "task": "high"}],
        })  # fmt: skip
        (self.root / "tasks/small.yaml").write_text(
            json.dumps(suite.model_dump(mode="json", by_alias=True, exclude_unset=True))
        )
        job = self.job()
        async with Gateway().serve() as gateway:
            around = TrialSurroundings(gateway=gateway, link=PuppetLink(say))
            trace = await TrialRun(job, around).carry_out()
        return score_trial(compile_script(suite, suite.tasks[0]), trace)

    async def kept(self, person: Person, say: Any | None = None) -> TaskDraft:
        trace = await self.by_hand(say or desk(), person)
        return draft_task(trace, "kept", frozenset({"register/list_berths"}))

    async def test_the_same_agent_passes_it_and_one_that_writes_unasked_does_not(self) -> None:
        for assent in ("Yes, go ahead.", "Sure, book it", "That's right.", "OK"):
            with self.subTest(assent):
                made = await self.kept(Person("Find me a berth.", assent))
                (rule,) = made.task["user"]
                self.assertEqual(rule["grants"], "go-ahead")
                calls = {call["as"]: call for call in made.task["expect"]["calls"]}
                self.assertEqual(calls["book"]["after_grant"], "go-ahead")
                self.assertNotIn("after_grant", calls["list_berths"])
                again = await self.replayed(made, desk())
                self.assertEqual(again["verdict"], "pass", again["checks"])
                unasked = await self.replayed(made, desk(asks_user=False))
                self.assertEqual(unasked["verdict"], "fail")
                (self.root / "tasks/small.yaml").unlink()

    async def test_words_that_are_no_assent_grant_nothing(self) -> None:
        for words in ("No, take N3 instead.", "Which are deep?", "Yes but not today"):
            made = await self.kept(Person("Find me a berth.", words))
            self.assertNotIn("grants", made.task["user"][0], words)

    async def test_a_question_of_the_server_is_answered_again(self) -> None:
        made = await self.kept(Person("Find me a berth.", "Yes."))
        (entry,) = made.task["answers"]
        self.assertEqual((entry["server"], entry["give"]), ("register", {"side": "east"}))
        again = await self.replayed(made, desk())
        self.assertEqual(again["verdict"], "pass", again["checks"])

    async def test_an_edited_approval_is_edited_again(self) -> None:
        wrong = desk(berth="N9")
        made = await self.kept(Person("Find me a berth.", "Yes.", edit={"berth": "N1"}), wrong)
        self.assertEqual(made.task["approvals"], [
            {"tool": "register/book", "decision": "approve", "edit": {"berth": "N1"}}
        ])  # fmt: skip
        book = next(c for c in made.task["expect"]["calls"] if c["as"] == "book")
        self.assertIs(book["as_approved"], True)
        again = await self.replayed(made, desk(berth="N9"))
        self.assertEqual(again["verdict"], "pass", again["checks"])
        unapproved = await self.replayed(made, desk(asks_approval=False))
        self.assertEqual(unapproved["verdict"], "fail")

    async def test_it_holds_on_another_day(self) -> None:
        made = await self.kept(Person("Find me a berth.", "Yes."))
        book = next(c for c in made.task["expect"]["calls"] if c["as"] == "book")
        self.assertEqual(book["args"]["day"], {"day": "today"})
        self.clock = "2032-01-31T12:00:00Z"
        again = await self.replayed(made, desk())
        self.assertEqual(again["verdict"], "pass", again["checks"])


SUITE = """ferox: 1   # a comment
suite: small
servers: {tides:   mock}

tasks:
  # the first
  - task: one
    say:   'Hello.'      # odd spacing stays
    expect: {calls: []}

  - task: two
    say: >
      Folded
      words.
# the end
"""


class Appending(TrialCase):
    def added(self, text: str, servers: dict[str, str]) -> str:
        task = {"task": "new", "say": "A: b", "expect": {"calls": [{"tool": "tides/x"}]}}
        after = with_task(text, task, servers)
        value = read_yaml_text(after)
        self.assertEqual(value.faults, [])
        self.assertEqual(value.value["tasks"][-1], task)
        self.assertEqual(value.value["servers"], {"tides": "mock", **servers})
        return after

    def test_all_else_stays_to_the_byte(self) -> None:
        after = self.added(SUITE, {"tides": "mock"})
        head, tail = SUITE.split("# the end")
        self.assertTrue(after.startswith(head))
        self.assertTrue(after.endswith(f"# the end{tail}"))

    def test_a_server_that_lacks_is_added_in_its_place(self) -> None:
        after = self.added(SUITE, {"register": "mock"})
        line = "servers: {tides:   mock, register: mock}"
        before = SUITE.replace("servers: {tides:   mock}", line)
        self.assertTrue(after.startswith(before.split("# the end")[0]))
        block = SUITE.replace("servers: {tides:   mock}", "servers:\n  tides: mock  # here")
        self.assertIn(
            "  tides: mock  # here\n  register: mock\n", self.added(block, {"register": "mock"})
        )

    def test_lists_in_brackets_and_no_tasks_at_all(self) -> None:
        for rest in (
            "servers: {tides: mock}\ntasks: []\n",
            "servers: {tides: mock}\ntasks: [{task: a, say: b}]\n",
            "servers:\n  tides: mock\ntasks:\n- task: a\n  say: b",
        ):
            text = f"ferox: 1\nsuite: s\n{rest}"
            with self.subTest(text):
                self.added(text, {"tides": "mock", "pilots": "recorded"})
