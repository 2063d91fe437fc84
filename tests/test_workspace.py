"""Loading a workspace: every error, with its place and the likely intent."""

from __future__ import annotations

import unittest
from pathlib import Path
from typing import Any

import ruamel.yaml
from hypothesis import given
from hypothesis import strategies as st

from ferox.workspace import WorkspaceError, load_workspace
from ferox.workspace.yaml_files import parse_yaml
from tests.workspaces import WorkspaceCase

KEYS = st.text("abc", min_size=1)
DEMO = Path(__file__).resolve().parents[1] / "demo"


class Loading(WorkspaceCase):
    def problems(self) -> list[str]:
        with self.assertRaises(WorkspaceError) as caught:
            load_workspace(self.root)
        return [str(p) for p in caught.exception.problems]

    def test_a_good_workspace_loads(self) -> None:
        loaded = load_workspace(self.root)
        self.assertEqual(set(loaded.agents), {"plain"})
        self.assertEqual(loaded.suites["small"].tasks[0].task, "high")

    def test_the_demo_loads(self) -> None:
        loaded = load_workspace(DEMO)
        self.assertGreaterEqual(len(loaded.suites["arrivals"].tasks), 6)

    def test_a_misspelt_tool_and_server_name_their_place_and_intent(self) -> None:
        self.change("tasks/small.yaml", "tool: tides/high_water", "tool: tides/hihg_water")
        (problem,) = self.problems()
        self.assertTrue(problem.startswith("tasks/small.yaml:8:26: "), problem)
        self.assertIn("`tides/hihg_water`: no such tool; did you mean `high_water`?", problem)
        self.change("tasks/small.yaml", "tides/hihg_water", "tide/high_water")
        self.assertIn("no such server; did you mean `tides`?", self.problems()[0])

    def test_an_argument_that_the_tool_does_not_have(self) -> None:
        self.change("tasks/small.yaml", "args: {day:", "args: {dya:")
        self.assertIn("no argument `dya`; did you mean `day`?", self.problems()[0])

    def test_a_uri_template_that_is_none(self) -> None:
        resources = "  resources: [{name: day, uriTemplate: 'tides://{day', text: x}]\n"
        path = self.root / "servers/tides.yaml"
        path.write_text(path.read_text().replace("mock:\n", f"mock:\n{resources}"))
        (problem,) = self.problems()
        self.assertRegex(problem, r"servers/tides.yaml:4:\d+: .*expression")

    def test_a_stand_in_that_names_a_result_that_nothing_brings(self) -> None:
        for does, found in (
            ("{say: 'High water is at {{ tied.time }}'}", "`tied`: .*did you mean `tide`"),
            ("{say: \"{{ value_of('tidy', '$.time') }}\"}", "`tidy`: .*did you mean `tide`"),
            ("{intent: x, values: {day: {from: tied}}}", "`tied`: .*did you mean `tide`"),
            ("{intent: x, each: {from: tied, path: '$'}}", "`tied`: .*did you mean `tide`"),
            ("{intent: x, if_failed: [{say: '{{ tied }}'}]}", "`tied`: .*did you mean `tide`"),
            ("{say: '{{ tide'}", "unexpected|end of"),
            ("{as: own, intent: x, values: {day: {from: own}}}", "`own`: no intent before"),
        ):
            with self.subTest(does):
                self.scene(does)
                (problem,) = self.problems()
                self.assertRegex(problem, rf"^stand_ins/desk.yaml:\d+:\d+: .*{found}")
        self.scene(
            "{say: \"{{ tide.time }} {{ value_of('tide', '$.time') }} {{ range(2)|list }}\"}"
        )
        load_workspace(self.root)

    def scene(self, does: str) -> None:
        """A stand-in whose one scene looks the tide up, and then does this."""
        looks = "{as: tide, intent: high water, if_failed: [{as: low, intent: low water}]}"
        self.write(
            "stand_ins/desk.yaml",
            f"""
            ferox: 1
            stand_in: desk
            scenes:
              - request: When is high water?
                does:
                  - {looks}
                  - {does}
            """,
        )

    def test_all_errors_of_all_files_at_once(self) -> None:
        self.change("agents/plain.yaml", "model: steady", "model: stedy\nlnk: x")
        self.change("servers/tides.yaml", "server: tides", "server: tides\nserver: tides")
        self.change("tasks/small.yaml", "state: [", "stat: [")
        found = self.problems()
        self.assertEqual(len(found), 3)
        self.assertIn(
            "agents/plain.yaml:5:1: `lnk` is not a known key; did you mean `link`?", found
        )
        self.assertIn("servers/tides.yaml:3:1: `server` stands here twice", found)
        self.assertTrue(any("`stat` is not a known key; did you mean `state`?" in t for t in found))

    def test_yaml_that_does_not_parse(self) -> None:
        self.write("tasks/small.yaml", "ferox: 1\nsuite: [small\ntasks: []\n")
        (problem,) = self.problems()
        self.assertRegex(problem, r"^tasks/small.yaml:2:8: not YAML: .*not closed")

    def test_a_fault_of_the_format_names_the_task(self) -> None:
        self.change("tasks/small.yaml", "say: When", "answer: []\n    say: When")
        (problem,) = self.problems()
        self.assertRegex(
            problem, r"^tasks/small.yaml:\d+:5: task `high`: `answer` .* put it under `expect`$"
        )
        self.change("tasks/small.yaml", "answer: []", "budget: {tokens: few}")
        self.assertIn("task `high`: `budget.tokens`: input should be", self.problems()[0])
        self.change(
            "tasks/small.yaml", "budget: {tokens: few}", "faults: [{grants: yes, do: slow}]"
        )
        self.change("tasks/small.yaml", "expect:\n", "expect:\n      budget: {tokens: 1}\n")
        self.assertIn("put it beside `expect`", "\n".join(self.problems()))

    def test_missing_files_and_folders(self) -> None:
        (self.root / "stand_ins/desk.yaml").unlink()
        self.assertIn("`stand_ins/desk.yaml`: no such file", self.problems()[0])
        (self.root / "ferox.yaml").unlink()
        self.assertIn("ferox.yaml:1:1: no such file", self.problems()[0])
        self.root = self.root / "nowhere"
        self.assertIn("no such folder", self.problems()[0])

    def test_nothing_outside_the_workspace_is_read(self) -> None:
        self.change("ferox.yaml", "stand_ins/desk.yaml", "../../etc/passwd")
        self.assertIn("leaves the workspace", self.problems()[0])
        self.change("ferox.yaml", "../../etc/passwd", "stand_ins/desk.yaml")
        self.change("agents/plain.yaml", "model: steady", "model: steady\ninstructions: /etc/x.md")
        self.assertIn("leaves the workspace", self.problems()[0])

    def test_references_inside_a_task(self) -> None:
        self.change("tasks/small.yaml", "{day: {day: today}}", "{day: {from: lwo, path: $.x}}")
        self.change("tasks/small.yaml", "answer:", "order: [[high, hgih]]\n      answer:")
        found = "\n".join(self.problems())
        self.assertIn("`from: lwo`: no such call", found)
        self.assertIn("`hgih`: no expected call; did you mean `high`?", found)

    def test_alternatives_are_checked_each_with_its_place(self) -> None:
        text = (self.root / "tasks/small.yaml").read_text()
        head = text[: text.index("    expect:")]
        self.write(
            "tasks/small.yaml",
            head
            + "    expect:\n      either:\n"
            + "        - {calls: [{tool: tides/high_water}]}\n"
            + "        - {calls: [{tool: tides/hihg_water}], order: [[real]]}\n",
        )
        found = self.problems()
        self.assertEqual(len(found), 2)
        self.assertTrue(all(t.startswith("tasks/small.yaml:10:") for t in found), found)
        self.assertIn("did you mean `high_water`?", "\n".join(found))

    def test_names_that_nothing_has(self) -> None:
        self.change("tasks/small.yaml", "state: [{server: tides,", "state: [{from: raal,")
        self.change(
            "tasks/small.yaml",
            "    say:",
            "    truth: [{as: real, tool: tides/high_water, args: {day: x}}]\n    say:",
        )
        self.change("tasks/small.yaml", "answer:", "failures: {write: hgih}\n      answer:")
        found = "\n".join(self.problems())
        self.assertIn("`raal`: no truth; did you mean `real`?", found)
        self.assertIn("`hgih`: no expected call; did you mean `high`?", found)

    def test_names_and_manners_that_are_taken_or_unknown(self) -> None:
        self.change("ferox.yaml", "manner: hasty", "manner: hastly")
        self.write("agents/second.yaml", "ferox: 1\nagent: plain\nlink: plain\nmodel: steady\n")
        found = "\n".join(self.problems())
        self.assertIn("agent `plain` is also in agents/plain.yaml", found)


class Yaml(unittest.TestCase):
    def test_version_1_2_words_stay_words(self) -> None:
        value = parse_yaml("a: yes\nb: 2031-03-14\nc: 0x1f\nd: ~\ne: 1e3\n", "x").value
        self.assertEqual(value, {"a": "yes", "b": "2031-03-14", "c": 31, "d": None, "e": 1000.0})

    def test_what_json_cannot_hold_and_several_documents_are_errors(self) -> None:
        self.assertTrue(parse_yaml("a: .nan\n", "x").problems)
        self.assertTrue(parse_yaml("a: 1\n---\nb: 1\n", "x").problems)
        self.assertTrue(parse_yaml("", "x").problems)

    def test_anchors_that_would_never_end(self) -> None:
        self.assertIn("itself", parse_yaml("a: &a [*a]\n", "x").problems[0].message)
        lines = ["a0: &a0 [x, x]"]
        lines += [f"a{i}: &a{i} [{', '.join([f'*a{i - 1}'] * 9)}]" for i in range(1, 12)]
        self.assertIn("values", parse_yaml("\n".join(lines), "x").problems[0].message)

    @given(
        st.recursive(
            st.none() | st.booleans() | st.integers() | st.text("ab #'\"\n-", max_size=9),
            lambda v: st.lists(v, max_size=3) | st.dictionaries(KEYS, v, max_size=3),
            max_leaves=10,
        )
    )
    def test_any_json_value_is_read_back(self, value: Any) -> None:
        import io

        out = io.StringIO()
        ruamel.yaml.YAML(typ="safe", pure=True).dump({"v": value}, out)
        self.assertEqual(parse_yaml(out.getvalue(), "x").value, {"v": value})
