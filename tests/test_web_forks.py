"""Forks of a trial over the interface and on the screens, with real runs behind them."""

from __future__ import annotations

from typing import Any

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.select import Select

from tests.serving import AppCase
from tests.test_fork import DESK, SUITE, TIDES
from tests.test_screens import ScreenCase
from tests.waiting import until


class Interface(AppCase):
    def setUp(self) -> None:
        super().setUp()
        self.write("servers/tides.yaml", TIDES)
        self.write("stand_ins/desk.yaml", DESK)
        self.write("tasks/small.yaml", SUITE)

    def parent(self) -> int:
        body = {"suites": ["small"], "agents": ["plain"], "repeats": 1}
        self.follow(self.ask("/api/runs", body).body["id"])
        return 1  # the only trial there is

    def test_forks_are_started_and_read_with_their_counts(self) -> None:
        parent = self.parent()
        self.assertEqual(self.ask(f"/api/trials/{parent}/forks").body, {"forks": []})
        for change in ({}, {"answer": None}, {"error": "No table."}):
            wish = {"at": "c2", "change": change, "repeats": 2}
            started = self.ask(f"/api/trials/{parent}/forks", wish)
            self.assertEqual(started.status, 201, started.body)
            self.follow(started.body["id"])
        found: list[Any] = self.ask(f"/api/trials/{parent}/forks").body["forks"]
        words = [fork["words"] for fork in found]
        self.assertEqual(words[0], "unchanged: 2 of 2 passed")
        # Null is an answer too, and another than none given.
        self.assertTrue(words[1].startswith("with the answer emptied: "), words)
        self.assertEqual(found[2]["detail"], "No table.")
        self.assertEqual([len(fork["trials"]) for fork in found], [2, 2, 2])
        shown = self.ask(f"/api/trials/{found[0]['trials'][0]['id']}").body
        self.assertEqual(shown["trace"]["fork"]["trial"], parent)
        listed = [run["title"] for run in self.ask("/api/runs").body["runs"]]
        self.assertEqual(listed, ["small"])

    def test_what_cannot_be_started_is_refused_with_why(self) -> None:
        parent = self.parent()
        for trial, body, status, why in (
            (99, {"at": "c1"}, 404, "there is no trial 99"),
            (parent, {"at": "c9"}, 409, "no such place"),
            (parent, {"at": "c1", "change": {"say": "x"}}, 409, "`say` is for"),
            (parent, {"at": "c1", "change": {"say": "x", "error": "y"}}, 422, "one thing"),
            (parent, {"at": "c1", "repeats": 51}, 422, "50"),
            (parent, {"at": "c1", "change": {"fault": {"do": "sunshine"}}}, 422, "fault"),
        ):
            with self.subTest(body):
                given = self.ask(f"/api/trials/{trial}/forks", body)
                self.assertEqual(given.status, status, given.body)
                self.assertIn(why, str(given.body))


class Screens(ScreenCase):
    def setUp(self) -> None:
        super().setUp()
        self.write("servers/tides.yaml", TIDES)
        self.write("stand_ins/desk.yaml", DESK)
        self.write("tasks/small.yaml", SUITE)
        self.start(1)
        self.see("[data-testid=dock]", "Run 1 is done")
        self.open("/trial/1?call=c2")

    def begin(self, repeats: int) -> None:
        field = self.see("[data-testid=from-here] input[type=number]")
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(str(repeats))
        self.press("[data-testid=start-forks]", f"Start {repeats} fork")

    def test_going_on_from_a_call_and_what_came_of_it_in_place(self) -> None:
        self.press_button("From here…")
        told = self.see("[data-testid=from-here]", "tides (mock) is brought to the state")
        self.assertIn("this trial asked it once from here", told.text)
        self.begin(2)
        self.see("[data-testid=forks]", "unchanged: 2 of 2 passed")
        self.press_button("From here…")
        Select(self.see("[data-testid=way]")).select_by_value("answer")
        answer = self.see("[data-testid=answer]")
        self.assertIn("14:31", str(answer.get_attribute("value")))
        answer.clear()
        answer.send_keys('{"high_water": "02:00", "asked": 4}')
        self.begin(1)
        self.see("[data-testid=forks]", "with another answer: 1 of 1 passed")
        forks = self.see("[data-testid=forks]").text
        self.assertIn("from call c2, high_water", forks)
        self.assertIn("as it was: passes", forks)
        self.press("[data-testid=forks] button", "with another answer")
        self.see("[data-testid=opened]", "02:00")
        self.press("[data-testid=opened] a", "trial")
        self.see("[data-testid=fork-origin]", "Goes on from c2 of trial 1, with another answer.")
        self.see("[data-testid=tracks]", "from here with another answer")
        self.see("[data-testid=legend]", "played back")
        self.see("[data-testid=times]", "times are not told")
        self.assertFalse(self.page.find_elements(By.CSS_SELECTOR, "[data-testid=from-here]"))
        self.press("[data-testid=fork-origin] a", "Side by side")
        self.see("[data-testid=pair]")
        self.press("a", "trial 1 of run 1")
        self.see("[data-testid=forks]", "unchanged")
        self.assertEqual(self.errors(), [])

    def test_going_on_from_a_request_and_from_the_users_words(self) -> None:
        self.open("/trial/1?call=m3")
        self.see("[aria-label='Chosen call']", "Request m3")
        self.page.find_element(By.TAG_NAME, "body").send_keys("h")
        Select(self.see("[data-testid=way]")).select_by_value("call")
        args = self.see("[data-testid=args]")
        args.clear()
        args.send_keys("[1]")
        self.see("[data-testid=from-here]", "Arguments are a JSON object.")
        self.assertFalse(self.see("[data-testid=start-forks]").is_enabled())
        args.clear()
        args.send_keys('{"day": "tomorrow"}')
        self.begin(1)
        self.see("[data-testid=forks]", "with tides/high_water proposed: 0 of 1 passed")
        self.press_button("From here…")
        Select(self.see("[data-testid=way]")).select_by_value("wording")
        Select(self.see("[data-testid=tool]")).select_by_visible_text("tides/low_water")
        description = self.see("[data-testid=description]")
        self.assertEqual(description.get_attribute("value"), "Low water.")
        description.clear()
        description.send_keys("High water.")
        self.begin(1)
        self.see("[data-testid=forks]", "with another description of tides/low_water: ")
        self.press("[aria-label=Conversation] button", "from here…")
        Select(self.see("[data-testid=way]")).select_by_value("say")
        words = self.see("[data-testid=say]")
        self.assertEqual(words.get_attribute("value"), "When is high water today?")
        words.clear()
        words.send_keys("Good morning.")
        self.begin(1)
        until(lambda: "with other words: 0 of 1" in self.see("[data-testid=forks]").text)
        self.see("[data-testid=forks]", "from turn 1")

    def test_what_is_refused_is_said_in_the_dialog(self) -> None:
        self.write("ferox.yaml", "ferox: 1\nname: broken\nmodels: [\n")
        self.press_button("From here…")
        self.press("[data-testid=start-forks]", "Start")
        self.see("[role=alert]", "ferox.yaml")
