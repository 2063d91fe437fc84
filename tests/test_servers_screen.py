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

TIDES = Path(__file__).parent / "servers/tides.py"
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
        self.button("Find the server").click()
        found = self.see("[data-testid=new-server] pre", "secret: DESK_TOKEN")
        self.assertNotIn("abc123", found.text)
        self.button("Write this file and reach it").click()
        self.see("h2", "would go to the command")  # the diagnosis: nothing is sent unasked
        kept = (self.root / ".env").read_text()
        self.assertIn("DESK_TOKEN='abc123'", kept)
        self.assertIn(".env", (self.root / ".gitignore").read_text())
        self.button("Let DESK_TOKEN go to").click()
        self.see("[data-testid=tools]", "sound")
        self.see("[data-testid=tools] button", "sound").click()
        self.fill("#argument-steps", "40")
        self.button("Call it").click()
        self.see(".progress", "sounding")
        self.button("Cancel").click()
        self.see("[data-testid=call-by-hand]", "It was cancelled")
        self.see("[data-testid=tools] button", "book").click()
        self.button("Call it").click()
        self.see("[data-testid=asked]", "Which berth?")
        self.fill("[data-testid=asked] #argument-berth", "N1")
        self.button("Answer").click()
        self.see("[data-testid=call-by-hand]", "Booked N1.")
        self.see("[data-testid=call-by-hand] summary", "raw messages").click()
        self.see("[data-testid=messages]", "elicitation/create")
        self.assertEqual(self.errors(), [])

    def test_an_earlier_try_is_called_back_and_compared(self) -> None:
        self.open("/servers/tides?tool=high_water")
        self.fill("#argument-day", "monday")
        self.button("Call it").click()
        self.see("[data-testid=call-by-hand]", "14:31")
        text = (self.root / "servers/tides.yaml").read_text()
        self.write("servers/tides.yaml", text.replace('"14:31"', '"17:05"'))
        choice = Select(self.see("[aria-label='Earlier calls']"))
        choice.select_by_index(1)
        self.button("Call it").click()
        self.see("[data-testid=differences]", "17:05")
        self.see("[data-testid=differences]", "/high_water")

    def test_resources_and_prompts_are_read(self) -> None:
        self.write("servers/live.yaml", LIVE)
        self.open("/servers/live?view=reads")
        self.see("button", "tides://table").click()
        self.see("[data-testid=read]", "14:31")
        self.see("li button", "ask").click()
        self.fill("form input", "friday")
        self.button("Fill it in").click()
        self.see("[data-testid=read]", "When is high water on friday?")

    def test_a_recording_is_made_browsed_edited_and_becomes_a_mock(self) -> None:
        self.write("servers/live.yaml", LIVE)
        self.open("/servers/live?view=recordings")
        self.see("[data-testid=relay] button", "Record").click()
        address = self.see("[data-testid=relay] pre", "http://").text

        async def client() -> None:
            async with Client(address) as client:
                await client.list_tools()
                await client.call_tool("high_water", {"day": "monday"})

        asyncio.run(client())
        self.see("[data-testid=relay] li", "high_water")
        self.button("Stop").click()
        self.fill("[data-testid=relay] input[required]", "calm-day")
        self.button("Keep").click()
        self.see("[data-testid=recordings]", "in use")
        self.see("[data-testid=exchanges] button", "high_water").click()
        self.see("[data-testid=exchanges]", "14:31 on monday")
        self.button("Edit the answer").click()
        area = self.see("[aria-label=Answer]")
        told = json.loads(area.get_attribute("value"))
        told["result"] = {"content": [{"type": "text", "text": "flat calm"}], "isError": False}
        area.send_keys(Keys.CONTROL, "a")
        area.send_keys(json.dumps(told))
        self.button("Save this answer").click()
        self.see("[data-testid=exchanges]", "flat calm")
        self.button("Is it still so?").click()
        self.button("Ask the live server").click()
        self.see("[data-testid=drift]", "1 not asked")
        self.see("[data-testid=drift] label", "ask high_water too").click()
        self.button("Ask again").click()
        self.see("[data-testid=drift]", "flat calm")
        self.button("Back to its calls").click()
        self.button("Make a mock of it").click()
        self.see("[data-testid=editor]", "mock")
        self.button("Save").click()
        self.see(".bar", "Saved.")
        self.fill("[data-testid=mock-side] #argument-day", "monday")
        self.button("Call it").click()
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
        self.button("Save").click()
        self.see("[role=alert]", "not saved: servers/tides.yaml:")
        area.send_keys(*[Keys.BACKSPACE] * 3)
        area.send_keys("# calm")
        self.see("[data-testid=problems]", "it loads")
        area.send_keys(Keys.CONTROL, "s")
        self.see(".bar", "Saved.")
        path = self.root / "servers/tides.yaml"
        self.assertTrue(path.read_text().rstrip().endswith("# calm"))
        path.write_text(path.read_text() + "# by somebody else\n")
        area.send_keys("!")
        self.button("Save").click()
        self.see("[role=alert]", "changed on disk")
        self.button("Read it again").click()
        self.see("[data-testid=editor]", "by somebody else")

    def test_an_agent_s_wording_is_changed_and_changes_of_a_list_are_told(self) -> None:
        self.open("/servers/tides?tool=high_water")
        self.button("Reword").click()
        self.fill(".reword input", "flood_times")
        self.button("Let agents read this").click()
        self.see("[data-testid=tools]", "→ flood_times")
        self.assertIn("wording:", (self.root / "servers/tides.yaml").read_text())
        text = (self.root / "servers/tides.yaml").read_text()
        self.write("servers/tides.yaml", text.replace("Times of low water", "All low waters"))
        self.button("Restart").click()
        self.see("[data-testid=changes]", "/description")

    def test_a_mock_in_a_few_words(self) -> None:
        self.open("/servers?view=new")
        self.button("Mock in a few words").click()
        for place, words in enumerate(
            ("pilots", "pilot_roster", "Who is on duty.", "day: date, area?")
        ):
            self.page.find_elements(By.CSS_SELECTOR, "form input")[place].send_keys(words)
        self.fill("form textarea", '{"on": "Ines Calder"}')
        self.button("Make the mock").click()
        self.see("[data-testid=tools] button", "pilot_roster").click()
        self.fill("#argument-day", "2031-03-14")
        self.button("Call it").click()
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
        self.see("[data-testid=tools] button", "crane_299").click()
        self.button("Wording").click()
        self.see("[data-testid=wording] canvas")
        self.see("nav a", "1 problem in its file").click()
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
        self.button("add to berths").click()
        self.fill("#argument-berths-1", "N1")
        self.button("add to berths").click()
        self.fill("#argument-berths-2", "N2")
        self.fill("#argument-at-x", "1.5")
        Select(self.see("#argument-dry")).select_by_visible_text("true")
        Select(self.see("[aria-label='Form of when']")).select_by_visible_text("hours from now")
        self.fill("#argument-form-when", "6")
        self.button("As JSON").click()
        area = self.see("[aria-label='Arguments as JSON']")
        told = json.loads(area.get_attribute("value"))
        expected = {
            "berths": ["N1", "N2"], "at": {"x": 1.5}, "side": "south", "dry": True, "when": 6,
        }  # fmt: skip
        self.assertEqual(told, expected)
        area.send_keys(Keys.CONTROL, "a")
        area.send_keys(json.dumps({**told, "berths": ["S1"]}))
        self.button("As a form").click()
        self.assertEqual(self.see("#argument-berths-1").get_attribute("value"), "S1")
        self.button("Call it").click()
        self.see("[data-testid=call-by-hand]", "S1")
        self.see("[data-testid=call-by-hand]", "south")

    def test_every_kind_of_content_is_shown_and_none_is_markup(self) -> None:
        form = self.FORM.replace("data: PNG", f"data: {PNG}").replace("data: WAV", f"data: {WAV}")
        self.write("servers/yard.yaml", form)
        self.open("/servers/yard?tool=chart")
        self.button("Call it").click()
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
        self.see(".none", "This server offers no tools")
        (self.root / "servers/tides.yaml").unlink()
        self.open("/servers")
        self.see("h1", "No tool server yet. Bring one in:")
        self.see("[data-testid=new-server] textarea")
