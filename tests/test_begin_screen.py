"""What a newcomer sees: an empty folder, models, secrets, the offer, a stand-in for a suite."""

from __future__ import annotations

import shutil

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.select import Select

from ferox.workspace.vault import Vault, install_vault
from tests.test_screens import ScreenCase
from tests.waiting import until


class EmptyFolder(ScreenCase):
    def setUp(self) -> None:
        super().setUp()
        for path in self.root.iterdir():
            if not path.name.startswith("."):
                shutil.rmtree(path) if path.is_dir() else path.unlink()

    def test_it_becomes_a_workspace_whose_first_run_passes(self) -> None:
        self.open("/")
        self.see("h2", "Nothing is here yet")
        self.see("[data-testid=begin] textarea").send_keys("https//tides.example/mcp")
        self.press_button("Make the workspace")
        self.see("[role=alert]", "did you mean https://tides.example/mcp?")
        self.see("[data-testid=begin] textarea").send_keys(Keys.CONTROL, "a", Keys.DELETE)
        self.press_button("Make the workspace")
        self.see("[data-testid=steps]", "1 server: berths")
        self.press("[data-testid=steps] a", "See what berths offers")
        self.see("main", "check_berth")
        self.open("/board")
        self.press_button("Start the first run")
        self.press("[data-testid=go]", "Start 6 trials")
        self.see("[data-testid=dock]", "is done")
        until(lambda: "6 of 6 passed" in self.see("[aria-label='Run shown']").text)

    def test_a_folder_that_holds_other_things_is_left_alone(self) -> None:
        (self.root / "mine.txt").write_text("mine")
        self.open("/")
        self.see("[data-testid=notice]", "ferox new my-desk")


class NewcomersScreens(ScreenCase):
    def test_a_model_is_made_tested_and_taken_out(self) -> None:
        self.open("/agents?view=models&model=")
        form = "[data-testid=model-form]"
        Select(self.see(f"{form} select")).select_by_visible_text("a stand-in: simulated")
        self.see(f"{form} input").send_keys("calm")
        files, manners = self.page.find_elements(By.CSS_SELECTOR, f"{form} select")[1:]
        Select(files).select_by_visible_text("stand_ins/desk.yaml")
        Select(manners).select_by_visible_text("stubborn")
        self.press_button("Write it into ferox.yaml")
        self.see("[data-testid=models] [aria-pressed=true]", "calm")
        text = (self.root / "ferox.yaml").read_text()
        self.assertIn("manner: stubborn", text)
        self.press_button("Test it")
        self.see("[data-testid=model-test]", "calm is a stand-in (simulated)")
        self.see("[data-testid=model-test]", "it costs nothing")
        self.press_button("Take it out of ferox.yaml")
        self.see("[data-testid=undo]", "calm was taken out")
        self.assertNotIn("calm", (self.root / "ferox.yaml").read_text())
        self.press_button("Undo")
        until(lambda: "calm" in (self.root / "ferox.yaml").read_text())
        self.press("[data-testid=models] button", "steady")
        self.see("[data-testid=models] [aria-pressed=true]", "used by")
        self.assertEqual(self.errors(), [])

    def test_a_secret_is_taken_in_and_never_shown(self) -> None:
        install_vault(Vault(self.root))
        self.addCleanup(install_vault, Vault(None))
        self.write(
            "servers/far.yaml",
            "ferox: 1\nserver: far\nlive: {url: 'https://far.example/mcp', "
            "headers: {Authorization: {secret: FAR_KEY}}}\n",
        )
        self.open("/servers?view=secrets")
        self.see("[data-testid=secrets]", "not set")
        self.press_button("Set it")
        name, value = self.page.find_elements(By.CSS_SELECTOR, "[data-testid=secrets] input")
        self.assertEqual(name.get_attribute("value"), "FAR_KEY")
        value.send_keys("kelp-and-barnacle")
        self.press_button("Keep it in .env")
        self.see("[data-testid=secrets]", "FAR_KEY is kept in .env")
        self.assertIn("kelp-and-barnacle", (self.root / ".env").read_text())
        self.assertNotIn("kelp-and-barnacle", self.page.page_source)
        self.assertIn(".env", (self.root / ".gitignore").read_text().split())

    def test_the_offer_is_chosen_by_ticks_remembered_and_kept(self) -> None:
        self.open("/agents/plain")
        self.press("[data-testid=offer] label", "low_water")
        self.see("[data-testid=offer]", "Other than its file says")
        self.see("[data-testid=offer]", "1 of 2 tools")
        field = self.see("[data-testid=words]")
        field.send_keys("When is high water today?")
        self.press_button("Begin with this")
        self.see("[data-testid=conversation]", "High water is at 14:31.")
        self.press_button("End it, keep as trial 1")
        self.see("[data-testid=conversation]", "Open it as trial 1")
        offered = self.ask("/api/trials/1").body["trace"]["tools"]
        self.assertEqual(list(offered), ["tides/high_water"])
        kept = self.ask("/api/trials/1/draft", {"file": "tasks/kept.yaml", "task": "kept"}).body
        self.assertIn("offer", kept["text"])
        self.page.refresh()
        self.see("[data-testid=offer]", "Other than its file says")
        self.press_button("Keep it in its file")
        until(lambda: "high_water" in (self.root / "agents/plain.yaml").read_text())
        until(lambda: "Other than" not in self.see("[data-testid=offer]").text)
        self.assertEqual(self.errors(), [])

    def test_a_suite_gets_a_stand_in_and_runs_with_it(self) -> None:
        self.open("/tasks/small")
        self.press("[data-testid=make-stand-in]", "Make a stand-in")
        self.see("dialog", "stand-in-small is a simulated model")
        self.press("dialog a", "Run small with it")
        self.see("[data-testid=start-run] details[open]", "stand-in-small")
        self.press("[data-testid=go]", "Start")
        self.see("[data-testid=dock]", "is done")
        self.open("/agents?view=models&file=stand_ins/small.yaml")
        self.see(".cm-content", "stand_in: small")
