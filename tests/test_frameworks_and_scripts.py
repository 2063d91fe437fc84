"""What scripts say of stages, code, questions and costs, with real frameworks: for each a task that
passes and one that fails."""

from __future__ import annotations

import shutil
from typing import Any

from ferox.making.connecting import connection_files, find_connection
from tests.test_connections import DEMO, DESK, NEW, OLD, PIPELINE, RunCase
from tests.traces import checks

ASKS = """
        - name: high_water
          description: Times of high water on one day.
          input: {type: object, properties: {day: {type: string}}, required: [day]}
          answers:
            - ask:
                message: "Which gauge for {{ args.day }}?"
                schema: {type: object, properties: {gauge: {type: string}}}
              give: {high_water: "{{ '14:31' if asked.gauge == 'north' else '03:30' }}"}
"""


class Frameworks(RunCase):
    def script(self, *lines: str) -> None:
        """The task with these lines after its words."""
        body = "".join(f"    {line}\n" for line in lines)
        head = "ferox: 1\nsuite: small\nservers: {tides: mock}\ntasks:\n  - task: high\n"
        self.write("tasks/small.yaml", f"{head}    say: When is high water today?\n{body}")

    def judged(self, agent: str, *lines: str) -> dict[str, bool | None]:
        self.script(*lines)
        trace, result = self.trial(agent)
        self.assertEqual(trace["events"][-1]["why"], "done", trace["events"][-1])
        return {**checks(result), "verdict": result["verdict"] == "pass"}

    def connect(self, name: str, python: str) -> None:
        found = find_connection(name)
        assert found is not None
        for file, text in connection_files(found, "new-desk", "steady").items():
            self.write(file, text.replace(".venv/bin/python", python))

    def test_stages_of_an_agent_of_the_openai_agents_sdk(self) -> None:
        self.write("stand_ins/desk.yaml", DESK)
        self.python_agent(PIPELINE, python=NEW, own_tools="[ask_clerk]",
                          timeouts="{start_s: 60, turn_s: 30}")  # fmt: skip
        found = self.judged(
            "coded",
            "expect:",
            "  calls:",
            "    - {as: asked, tool: own/ask_clerk, by: head}",
            "    - {as: high, tool: tides/high_water, by: tide-clerk}",
            "  never: [{tool: tides/*, by: head}]",
            "  answer: [{by: tide-clerk, mentions: '14:31'}]",
            "budget: {by: {head: {model_calls: 2}, tide-clerk: {model_calls: 2}}}",
        )
        self.assertIs(found["verdict"], True, found)
        found = self.judged(
            "coded",
            "expect:",
            "  calls: [{as: high, tool: tides/high_water, by: head}]",
            "  others: allowed",
            "  never: [{tool: tides/*, by: tide-clerk}]",
            "  order: [[{by: head}, {by: tide-clerk}]]",
            "  answer: [{by: tide-clerk, mentions: '03:30'}]",
            "budget: {by: {head: {model_calls: 1}}}",
        )
        for id in ("high.by", "never.tides/*.by.tide-clerk", "order.by:head.by:tide-clerk",
                   "answer.0", "budget.model_calls.by.head"):  # fmt: skip
            self.assertIs(found[id], False, id)

    def test_code_that_a_smolagents_agent_writes(self) -> None:
        shutil.copy(DEMO / "agents/desk_smolagents.py", self.root / "desk_smolagents.py")
        self.write(
            "agents/coder.yaml",
            "ferox: 1\nagent: coder\nlink: python\nmodel: steady\n"
            f"python: {OLD}\nentry: desk_smolagents.py:open_code_desk\n",
        )
        expect = ["expect:", "  calls: [{as: high, tool: tides/high_water}]"]
        found = self.judged(
            "coder", *expect, r"  code: {matches: 'high_water\(', never: 'import os'}"
        )
        self.assertIs(found["verdict"], True, found)
        found = self.judged("coder", *expect, r"  code: {matches: 'while ', never: 'high_water'}")
        self.assertEqual((found["code.matches"], found["code.never"]), (False, False))

    def test_a_servers_question_reaches_the_script_past_pydantic_ai(self) -> None:
        self.write("servers/tides.yaml", f"ferox: 1\nserver: tides\nmock:\n  tools:{ASKS}")
        self.connect("pydantic-ai", NEW)
        expect = [
            "expect:",
            "  calls: [{as: high, tool: tides/high_water}]",
            "  order: [[gauge, high]]",
            "  at_most: {questions: 1}",
            "  answer: [{mentions: '14:31'}]",
        ]
        entry = "{as: gauge, server: tides, if_message: {matches: gauge}, give: {gauge: %s}}"
        found = self.judged("new-desk", f"answers: [{entry % 'north'}]", *expect)
        self.assertIs(found["verdict"], True, found)
        found = self.judged("new-desk", f"answers: [{entry % 'south'}]", *expect)
        self.assertEqual((found["order.gauge.high"], found["answer.0"]), (True, False))

    def test_costs_and_first_words_of_a_langgraph_agent(self) -> None:
        path = self.root / "ferox.yaml"
        price = "price: {in: 1, out: 2, per: 1000, currency: EUR}"
        path.write_text(path.read_text().replace("manner: steady}", f"manner: steady, {price}}}"))
        self.connect("langgraph", OLD)
        for money, first_words_ms, kept in ((50, 60_000, True), (0.0001, 0.0001, False)):
            found = self.judged(
                "new-desk", f"budget: {{money: {money}, first_words_ms: {first_words_ms}}}"
            )
            self.assertIs(found["budget.money"], kept)
            self.assertIs(found["budget.first_words_ms"], kept)

    def test_an_unpriced_model_is_not_tested(self) -> None:
        path = self.root / "ferox.yaml"
        model: Any = "ghost: {base_url: 'http://127.0.0.1:9/v1', name: ghost}"
        path.write_text(path.read_text().replace("models:", f"models:\n  {model}"))
        self.connect("langgraph", OLD)
        self.change("agents/new-desk.yaml", "model: steady", "model: ghost")
        self.script("budget: {money: 1}")
        trace, _ = self.trial("new-desk")
        self.assertNotIn("prices", trace)
