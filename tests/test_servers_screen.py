"""The Servers place in a real browser, with real servers behind it."""

from __future__ import annotations

import asyncio
import json
import sys
from pathlib import Path

from mcp import Client
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.select import Select

from tests.test_screens import ScreenCase
from tests.waiting import until

TIDES = Path(__file__).parent / "servers/quick_tides.py"
LIVE = f"ferox: 1\nserver: live\nlive: {{command: [{sys.executable}, {TIDES}]}}\n"


PNG = (
    "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mP8z8DwHwAFBQIAX8jx0gAAAABJRU5E"
    "rkJggg=="
)
WAV = "UklGRiYAAABXQVZFZm10IBAAAAABAAEAQB8AAAB9AAACABAAZGF0YQIAAAA="


class ServersScreen(ScreenCase):
    def fill(self, css: str, words: str) -> None:
        field = self.see(css)
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(words)

    def test_a_pasted_server_is_written_reached_and_tried(self) -> None:
        self.open("/servers?view=new")
        self.fill("textarea", f"DESK_TOKEN=abc123 {sys.executable} {TIDES}")
        self.press_button("Find the server")
        found = self.see("[data-testid=new-server] pre", "secret: DESK_TOKEN")
        self.assertNotIn("abc123", found.text)
        self.press_button("Write this file and reach it")
        self.see("h2", "would go to the command")  # the diagnosis: nothing is sent unasked
        kept = (self.root / ".env").read_text()
        self.assertIn("DESK_TOKEN='abc123'", kept)
        self.assertIn(".env", (self.root / ".gitignore").read_text())
        self.press_button("Let DESK_TOKEN go to")
        self.see("[data-testid=tools]", "sound")
        self.press("[data-testid=tools] button", "sound")
        self.fill("#argument-steps", "40")
        self.press_button("Call it")
        self.see("[data-testid=call-progress]", "sounding")
        self.press_button("Cancel")
        self.see("[data-testid=call-by-hand]", "It was cancelled")
        self.press("[data-testid=tools] button", "book")
        self.press_button("Call it")
        self.see("[data-testid=asked]", "Which berth?")
        self.fill("[data-testid=asked] #argument-berth", "N1")
        self.press_button("Answer")
        self.see("[data-testid=call-by-hand]", "Booked N1.")
        self.press("[data-testid=call-by-hand] summary", "raw messages")
        self.see("[data-testid=messages]", "elicitation/create")
        self.assertEqual(self.errors(), [])

    def test_an_earlier_try_is_called_back_and_compared(self) -> None:
        self.open("/servers/tides?tool=high_water")
        self.fill("#argument-day", "monday")
        self.press_button("Call it")
        self.see("[data-testid=call-by-hand]", "14:31")
        text = (self.root / "servers/tides.yaml").read_text()
        self.write("servers/tides.yaml", text.replace('"14:31"', '"17:05"'))
        choice = Select(self.see("[aria-label='Earlier calls']"))
        choice.select_by_index(1)
        self.press_button("Call it")
        self.see("[data-testid=differences]", "17:05")
        self.see("[data-testid=differences]", "/high_water")

    def test_resources_and_prompts_are_read(self) -> None:
        self.write("servers/live.yaml", LIVE)
        self.open("/servers/live?view=reads")
        self.press("button", "tides://table")
        self.see("[data-testid=read]", "14:31")
        self.press("li button", "ask")
        self.fill("form input", "friday")
        self.press_button("Fill it in")
        self.see("[data-testid=read]", "When is high water on friday?")

    def test_a_recording_is_made_browsed_edited_and_becomes_a_mock(self) -> None:
        self.write("servers/live.yaml", LIVE)
        self.open("/servers/live?view=recordings")
        self.press("[data-testid=relay] button", "Record")
        address = self.see("[data-testid=relay] pre", "http://").text

        async def client() -> None:
            async with Client(address) as client:
                await client.list_tools()
                await client.call_tool("high_water", {"day": "monday"})

        asyncio.run(client())
        self.see("[data-testid=relay] li", "high_water")
        self.press_button("Stop")
        self.fill("[data-testid=relay] input[required]", "calm-day")
        self.press_button("Keep")
        self.see("[data-testid=recordings]", "in use")
        self.press("[data-testid=exchanges] button", "high_water")
        self.see("[data-testid=exchanges]", "14:31 on monday")
        self.press_button("Edit the answer")
        area = self.see("[aria-label=Answer]")
        body = json.loads(area.get_attribute("value"))
        body["result"] = {"content": [{"type": "text", "text": "flat calm"}], "isError": False}
        area.send_keys(Keys.CONTROL, "a")
        area.send_keys(json.dumps(body))
        self.press_button("Save this answer")
        self.see("[data-testid=exchanges]", "flat calm")
        self.press_button("Is it still so?")
        self.press_button("Ask the live server")
        self.see("[data-testid=drift]", "1 not asked")
        self.press("[data-testid=drift] label", "ask high_water too")
        self.press_button("Ask again")
        self.see("[data-testid=drift]", "flat calm")
        self.press_button("Back to its calls")
        self.press_button("Make a mock of it")
        self.see("[data-testid=editor]", "mock")
        self.press_button("Save")
        self.see("[data-testid=file-bar]", "Saved.")
        self.fill("[data-testid=mock-side] #argument-day", "monday")
        self.press_button("Call it")
        self.see("[data-testid=call-by-hand]", "flat calm")
        self.assertEqual(self.errors(), [])

    def test_the_editor_completes_tells_errors_and_saves_what_loads(self) -> None:
        self.open("/servers/tides?view=file")
        self.see("[data-testid=editor]", "ferox: 1")
        area = self.see(".cm-content")
        area.send_keys(Keys.CONTROL, Keys.END)
        area.send_keys("rec")
        area.send_keys(Keys.CONTROL, Keys.SPACE)
        self.see(".cm-tooltip-autocomplete", "recording")
        area.send_keys(Keys.ESCAPE)
        self.see("[data-testid=problems]", "1 problem")
        self.see(".cm-lint-marker-error, .cm-lintRange-error")
        self.press_button("Save")
        self.see("[role=alert]", "not saved: servers/tides.yaml:")
        area.send_keys(*[Keys.BACKSPACE] * 3)
        area.send_keys("# calm")
        self.see("[data-testid=problems]", "it loads")
        area.send_keys(Keys.CONTROL, "s")
        self.see("[data-testid=file-bar]", "Saved.")
        path = self.root / "servers/tides.yaml"
        self.assertTrue(path.read_text().rstrip().endswith("# calm"))
        area.send_keys("!")
        path.write_text(path.read_text() + "# by somebody else\n")
        self.press_button("Save")
        self.see("[role=alert]", "changed on disk")
        self.press_button("Read it again")
        self.see("[data-testid=editor]", "by somebody else")

    def test_an_agent_s_wording_is_changed_and_changes_of_a_list_are_reported(self) -> None:
        self.open("/servers/tides?tool=high_water")
        self.press_button("Reword")
        self.fill("[aria-label^=Rewording] input", "flood_times")
        self.press_button("Let agents read this")
        self.see("[data-testid=tools]", "→ flood_times")
        self.assertIn("wording:", (self.root / "servers/tides.yaml").read_text())
        text = (self.root / "servers/tides.yaml").read_text()
        self.write("servers/tides.yaml", text.replace("Times of low water", "All low waters"))
        self.press_button("Restart")
        self.see("[data-testid=changes]", "/description")

    def test_a_mock_in_a_few_words(self) -> None:
        self.open("/servers?view=new")
        self.press_button("Mock in a few words")
        for place, words in enumerate(
            ("pilots", "pilot_roster", "Who is on duty.", "day: date, area?")
        ):
            self.page.find_elements(By.CSS_SELECTOR, "form input")[place].send_keys(words)
        self.fill("form textarea", '{"on": "Ines Calder"}')
        self.press_button("Make the mock")
        self.press("[data-testid=tools] button", "pilot_roster")
        self.fill("#argument-day", "2031-03-14")
        self.press_button("Call it")
        self.see("[data-testid=call-by-hand]", "Ines Calder")

    def test_three_hundred_tools_and_files_that_do_not_load(self) -> None:
        tools = "\n".join(
            f"    - {{name: crane_{n}, description: Work crane {n} of the quay., "
            f"answers: [{{give: x}}]}}"
            for n in range(300)
        )
        self.write("servers/yard.yaml", f"ferox: 1\nserver: yard\nmock:\n  tools:\n{tools}\n")
        self.write("servers/broken.yaml", "ferox: 1\nserver: broken\nmocks: {}\n")
        self.open("/servers/yard")
        self.see("header", "300 tools")
        self.see("input[type=search]").send_keys("crane_299")
        self.press("[data-testid=tools] button", "crane_299")
        self.press_button("Wording")
        self.see("[data-testid=wording] canvas")
        self.press("nav a", "1 problem in its file")
        self.see("[data-testid=problems]", "1 problem")
        self.see("[data-testid=editor]", "mocks")
        self.assertEqual(self.errors(), [])

    FORM = """
        ferox: 1
        server: yard
        mock:
          tools:
            - name: survey
              description: Survey the quay by berth and by depth.
              input:
                type: object
                $defs:
                  point: {type: object, properties: {x: {type: number}, y: {type: number}}}
                properties:
                  berths: {type: array, items: {type: string}}
                  at: {$ref: "#/$defs/point"}
                  side: {enum: [north, south], default: south}
                  dry: {type: boolean}
                  when:
                    oneOf:
                      - {title: a day, type: string, format: date}
                      - {title: hours from now, type: integer, minimum: 0}
                required: [berths]
              answers:
                - give: {seen: "{{ args }}"}
            - name: chart
              description: The chart of the sound, drawn and spoken.
              answers:
                - content:
                    - {type: image, mimeType: image/png, data: PNG}
                    - {type: audio, mimeType: audio/wav, data: WAV}
                    - {type: resource_link, uri: "https://skerrow.example/chart", name: the chart}
                    - {type: text, text: "<img src=x onerror=document.title='owned'>"}
    """

    def test_a_form_for_nested_arguments_kept_in_step_with_json(self) -> None:
        self.write("servers/yard.yaml", self.FORM)
        self.open("/servers/yard?tool=survey")
        self.press_button("add to berths")
        self.fill("#argument-berths-1", "N1")
        self.press_button("add to berths")
        self.fill("#argument-berths-2", "N2")
        self.fill("#argument-at-x", "1.5")
        Select(self.see("#argument-dry")).select_by_visible_text("true")
        Select(self.see("[aria-label='Form of when']")).select_by_visible_text("hours from now")
        self.fill("#argument-form-when", "6")
        self.press_button("As JSON")
        area = self.see("[aria-label='Arguments as JSON']")
        body = json.loads(area.get_attribute("value"))
        expected = {
            "berths": ["N1", "N2"], "at": {"x": 1.5}, "side": "south", "dry": True, "when": 6,
        }  # fmt: skip
        self.assertEqual(body, expected)
        area.send_keys(Keys.CONTROL, "a")
        area.send_keys(json.dumps({**body, "berths": ["S1"]}))
        self.press_button("As a form")
        self.assertEqual(self.see("#argument-berths-1").get_attribute("value"), "S1")
        self.press_button("Call it")
        self.see("[data-testid=call-by-hand]", "S1")
        self.see("[data-testid=call-by-hand]", "south")

    def test_every_kind_of_content_is_shown_and_none_is_markup(self) -> None:
        form = self.FORM.replace("data: PNG", f"data: {PNG}").replace("data: WAV", f"data: {WAV}")
        self.write("servers/yard.yaml", form)
        self.open("/servers/yard?tool=chart")
        self.press_button("Call it")
        self.see("[data-testid=call-by-hand]", "It answered")
        self.see("[data-testid=call-by-hand] img[src^='data:image/png']")
        self.see("[data-testid=call-by-hand] audio")
        link = self.see("[data-testid=call-by-hand] a", "https://skerrow.example/chart")
        self.assertEqual(link.get_attribute("rel"), "noreferrer noopener")
        self.see("[data-testid=call-by-hand]", "<img src=x")
        self.assertNotEqual(self.page.title, "owned")

    def test_no_server_at_all_and_a_server_without_tools(self) -> None:
        self.write("servers/tides.yaml", "ferox: 1\nserver: tides\nmock: {}\n")
        self.open("/servers/tides?mode=mock")
        self.see("[data-testid=no-tools]", "This server offers no tools")
        (self.root / "servers/tides.yaml").unlink()
        self.open("/servers")
        self.see("h1", "No tool server yet. Bring one in:")
        self.see("[data-testid=new-server] textarea")

    def test_two_ways_of_a_server_stand_beside_each_other(self) -> None:
        live = f"live: {{command: [{sys.executable}, {TIDES}]}}\nmock:"
        self.change("servers/tides.yaml", "mock:", live)
        self.open("/servers/tides?view=beside&mode=mock")
        self.see("[data-testid=beside-summary]", "0 tools the same, 1 differ, 1 only mock, 3 only")
        self.press("[data-testid=beside] button", "high_water")
        self.see("[data-testid=differences]", "/outputSchema")
        self.fill("[data-testid=beside-call] #argument-day", "today")
        self.press_button("Call it both ways")
        self.see("[data-testid=beside-answers]", "14:31")
        self.see("h3", "Where the answers differ")
        self.press("[data-testid=beside] button", "low_water")
        self.see("[data-testid=beside]", "Only the mock way offers it.")
        self.fill("[data-testid=beside] input[type=search]", "environ")
        until(lambda: "high_water" not in self.see("[data-testid=beside] ul").text)
        self.assertEqual(self.errors(), [])

    def test_what_is_typed_into_a_form_outlives_the_place(self) -> None:
        self.open("/servers/tides?tool=high_water")
        self.fill("#argument-day", "2031-03-14")
        self.press("header a", "Board")
        self.see("h2", "No run yet")
        self.page.back()
        until(lambda: self.see("#argument-day").get_property("value") == "2031-03-14")
        self.page.refresh()
        until(lambda: self.see("#argument-day").get_property("value") == "2031-03-14")
        # Pasted words may hold a key: they outlive the place, but are never stored.
        self.open("/servers?view=new")
        self.fill("textarea", "DESK_TOKEN=abc123 python")
        self.press("header a", "Board")
        self.see("h2", "No run yet")
        self.page.back()
        until(lambda: "abc123" in str(self.see("textarea").get_property("value")))
        kept = self.page.execute_script("return JSON.stringify([sessionStorage, localStorage])")
        self.assertNotIn("abc123", kept)
