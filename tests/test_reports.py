"""Reports of runs: complete, short where they have to be, and nothing in them is markup."""

from __future__ import annotations

import unittest
from html.parser import HTMLParser
from pathlib import Path
from typing import Any

from click.testing import CliRunner

from ferox.cli.main import main
from ferox.core.scoring import score_trial
from ferox.reports.run_page import run_page
from ferox.reports.run_text import plain_text, run_markdown
from ferox.reports.tracks_picture import draw_tracks
from ferox.reports.words import changes_sentence
from ferox.runs.baseline import read_baseline
from ferox.runs.changes import Change, Changes
from ferox.runs.run_report import RunReport, report_run
from ferox.store import tables
from ferox.store.database import Session, read_session
from ferox.workspace.commit import find_commit
from tests.test_exports import HOSTILE, ExportCase
from tests.traces import call, failed, reply, script, trace, turn
from tests.workspaces import WorkspaceCase


class Page(HTMLParser):
    """What a browser reads of a page: elements, links and words."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self.elements: set[str] = set()
        self.ids: list[str] = []
        self.links: list[str] = []
        self.words = ""
        self._in_style = False
        self.feed(text)

    def handle_starttag(self, tag: str, attrs: Any) -> None:
        self.elements.add(tag)
        self._in_style = tag == "style"
        about = dict(attrs)
        self.ids += [about["id"]] if "id" in about else []
        self.links += [about["href"]] if "href" in about else []

    def handle_data(self, data: str) -> None:
        if not self._in_style:
            self.words += data


class ReportCase(ExportCase):
    def report(self, run: int, against: str | None = None) -> RunReport:
        with read_session(self.engine) as session:
            return report_run(session, run, read_baseline(session, against) if against else None)

    def page(self, run: int, against: str | None = None) -> Page:
        return Page(run_page(self.report(run, against)))


class Pages(ReportCase):
    def test_it_tells_what_changed_what_was_run_and_what_failed(self) -> None:
        self.run_of("ppp")
        run = self.keep_trial({"events": [turn(), failed("c1", "tides/high_water", 1.0), reply(2)]})
        page = self.page(run, "1")
        for words in (
            "Since run 1: 1 broke; 1 cell compared.",
            "B is this run, A is run 1: B and A cannot be told: a task has only one value",
            "steady (simulated)",
            "nothing: all models are simulated",
            "0 %; 0 to 79",
            "small/high · plain: 0 of 1 passed",
            "answer.0: the answer does not match /x/",
            "failed checks:",
        ):
            self.assertIn(words, page.words)
        self.assertIn("svg", page.elements)
        self.assertTrue(page.links)
        self.assertLessEqual({link[1:] for link in page.links}, set(page.ids))

    def test_it_asks_nothing_of_anywhere(self) -> None:
        text = run_page(self.report(self.run_of("pf")))
        self.assertNotRegex(text, r"(?:src|action|srcset)\s*=|url\(|@import")
        self.assertEqual([link for link in Page(text).links if not link.startswith("#")], [])
        self.assertIn("default-src 'none'", text)
        self.assertFalse(Page(text).elements & {"script", "link", "img", "iframe", "form"})

    def test_without_a_predecessor_and_without_failures_it_says_so(self) -> None:
        page = self.page(self.run_of("pp"))
        self.assertIn("No predecessor to compare with: nothing failed.", page.words)
        self.assertIn("No trial failed.", page.words)
        self.run_of("pp")
        self.assertIn("Since run 1: nothing changed; 1 cell compared.", self.page(2).words)

    def test_what_could_not_run_or_is_known_is_told_apart(self) -> None:
        with (self.root / "tasks/small.yaml").open("a") as file:
            file.write("known: [{task: high, why: asks twice}]\n")
        page = self.page(self.run_of("ffe"))
        self.assertIn("Known: asks twice", page.words)
        self.assertIn("1 could not run", page.words)
        self.assertIn("not tested", page.words)

    def test_nothing_that_agents_or_tools_say_is_markup(self) -> None:
        allowed = self.page(self.run_of("f")).elements | {"svg", "path", "circle", "rect", "text"}
        for text in HOSTILE:
            with self.subTest(text):
                made = failed("c1", "tides/high_water", 1.0, {"day": text})
                made["error"]["message"] = text
                run = self.keep_trial({"events": [turn(), made, reply(2.0, text)]})
                with Session(self.engine) as session, session.begin():
                    trial = session.query(tables.Trial).filter_by(run_id=run).one()
                    trial.went_wrong = text.encode("utf-8", "replace").decode()
                report = self.report(run)
                page = run_page(report)
                self.assertLessEqual(Page(page).elements, allowed)
                self.assertNotRegex(page, "[\x00-\x08\x1b\u202e]")
                self.assertNotRegex(run_markdown(report), r"[\x00-\x08\x1b\u202e]|(?<!\\)<[a-z!/]")

    def test_at_the_terminal(self) -> None:
        self.run_of("pp"), self.run_of("pf")
        html, markdown = self.root / "report.html", self.root / "report.md"
        words = ["report", str(self.root), "2", "--html", str(html), "--markdown", str(markdown)]
        done = CliRunner().invoke(main, [*words, "--against", "1"])
        self.assertEqual(done.exit_code, 0, done.output)
        self.assertTrue(html.read_text().startswith("<!doctype html>"))
        self.assertTrue(markdown.read_text().startswith("### Run 2 · small"))
        done = CliRunner().invoke(main, ["report", str(self.root), "2"])
        self.assertIn("### Run 2 · small", done.stdout)
        for wrong, why in ((["9"], "there is no run 9"), (["2", "--against", "x"], "no baseline")):
            done = CliRunner().invoke(main, ["report", str(self.root), *wrong])
            self.assertEqual((done.exit_code, why in done.stderr), (2, True))


class Markdown(ReportCase):
    def test_it_is_short_however_much_failed(self) -> None:
        for n in range(30):
            text = f"ferox: 1\nagent: agent-{n:02}\nlink: plain\nmodel: steady\n"
            self.write(f"agents/agent-{n:02}.yaml", text)
        agents = [f"agent-{n:02}" for n in range(30)]
        self.run_of("pp", agents=agents)
        text = run_markdown(self.report(self.run_of("ff", agents=agents), "1"))
        self.assertLess(len(text.splitlines()), 60)
        self.assertIn("30 broke", text)
        self.assertIn("… and 18 cells more", text)

    def test_its_tables_say_what_broke_and_how_often_each_passed(self) -> None:
        self.run_of("pp")
        text = run_markdown(self.report(self.run_of("ff"), "1"))
        self.assertIn("| **broke** | small/high | plain | 2/2 → 0/2 |", text)
        self.assertIn("| agent | passed, 95 % | outcome |", text)
        self.assertIn("| plain (simulated) | 0/2 (0 %; 0 to 66) | 0.00 (0.00 to 0.57) |", text)
        self.assertIn("B passes less often: 0 % against 100 %", text)

    def test_words_are_neither_markup_nor_links(self) -> None:
        for given, wanted in (
            ("a|b", "a\\|b"),
            ("**x** `y` <b>", "\\*\\*x\\*\\* \\`y\\` \\<b\\>"),
            ("line\n# two", "line #\u2060 two"),
            ("@all see https://x.y", "@\u2060all see https:\u2060//x.y"),
            ("www.x.y", "www\u2060.x.y"),
            ("x" * 200, "x" * 139 + "…"),
        ):
            with self.subTest(given):
                self.assertEqual(plain_text(given), wanted)


class Sentence(unittest.TestCase):
    def test_kinds_are_counted_in_their_order(self) -> None:
        kinds = ("wavers", "broke", "broke", "known", "mended")
        key = ("s", "t", "a")
        changes = Changes("run 3", [Change(k, key, (1, 1), (0, 1)) for k in kinds], compared=9)
        self.assertEqual(
            changes_sentence(changes),
            "Since run 3: 2 broke, 1 mended, 1 wavers, 1 known; 9 cells compared.",
        )


class Picture(unittest.TestCase):
    EXPECT = {
        "calls": [
            {"as": "look", "tool": "tides/high_water", "args": {"day": "x"}},
            {"as": "book", "tool": "harbour/assign_berth"},
            {"as": "list", "tool": "harbour/list_berths", "optional": True},
        ],
        "order": [["look", "book"]],
    }  # fmt: skip

    def draw(self, *events: Any) -> Any:
        of, happened = script(self.EXPECT), trace(*events)
        return draw_tracks(happened, score_trial(of, happened), of)

    def test_calls_are_joined_with_what_they_answer(self) -> None:
        picture = self.draw(
            call("c1", "harbour/assign_berth", 1.0),
            failed("c2", "tides/high_water", 2.0, {"day": "y"}),
            call("c3", "tides/high_water", 3.0, {"day": "x"}),
            call("c4", "tides/tide_window", 4.0),
        )
        self.assertEqual([(n.label, n.state) for n in picture.nodes],
                         [("look", "matched"), ("book", "matched")])  # fmt: skip
        self.assertEqual([(b.role, b.failed) for b in picture.bars],
                         [("matched", False), ("attempt", True), ("matched", False),
                          ("extra", False)])  # fmt: skip
        joined = {(j.top, j.bottom): (j.attempt, j.crossed) for j in picture.joins}
        x = [bar.x for bar in picture.bars]
        look, book = (node.x for node in picture.nodes)
        self.assertEqual(
            joined,
            {
                (look, x[2]): (False, False),
                (book, x[0]): (False, True),
                (look, x[1]): (True, False),
            },
        )

    def test_a_missing_call_says_why_and_the_words_say_all_of_it(self) -> None:
        picture = self.draw(call("c1", "tides/high_water", 1.0, {"day": "wrong"}))
        self.assertEqual([n.why for n in picture.nodes], ["", "not seen"])
        self.assertTrue(picture.bars[0].wrong_arguments)
        self.assertFalse(picture.joins[0].crossed)
        self.assertEqual(
            picture.words,
            "Expected: look (matched), book (missing). "
            "Made: high_water (matched, wrong arguments).",
        )

    def test_very_many_calls_are_cut_and_counted(self) -> None:
        picture = self.draw(*(call(f"c{n}", "tides/high_water", n / 10) for n in range(50)))
        self.assertEqual((len(picture.bars), picture.left_out), (40, 10))


class Commit(WorkspaceCase):
    ID = "0123456789abcdef0123456789abcdef01234567"

    def test_it_is_read_from_the_repositorys_files(self) -> None:
        inside = self.root / "desk"
        inside.mkdir()
        self.assertIsNone(find_commit(inside))
        for head, files in (
            (self.ID, {}),
            ("ref: refs/heads/main", {"refs/heads/main": self.ID}),
            ("ref: refs/heads/main", {"packed-refs": f"# x\n{self.ID} refs/heads/main\n"}),
        ):
            with self.subTest(head, files=list(files)):
                self.write(".git/HEAD", head)
                for name in ("refs/heads/main", "packed-refs"):
                    (self.root / ".git" / name).unlink(missing_ok=True)
                for name, text in files.items():
                    self.write(f".git/{name}", text)
                self.assertEqual(find_commit(inside), self.ID)

    def test_a_faulty_repository_has_none(self) -> None:
        for head in ("", "ref: ../../../etc/passwd", "ref: refs/heads/none", "not an id"):
            self.write(".git/HEAD", head)
            self.assertIsNone(find_commit(self.root))

    def test_a_work_tree_shares_its_repositorys_references(self) -> None:
        self.write("repo/.git/refs/heads/side", self.ID)
        self.write("repo/.git/worktrees/tree/HEAD", "ref: refs/heads/side")
        self.write("repo/.git/worktrees/tree/commondir", "../..")
        self.write("tree/.git", "gitdir: ../repo/.git/worktrees/tree\n")
        self.assertEqual(find_commit(Path(self.root / "tree")), self.ID)
