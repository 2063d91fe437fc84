"""Tool calls that a reply writes out as words."""

from __future__ import annotations

import unittest

from hypothesis import given
from hypothesis import strategies as st

from ferox.core.written_calls import known_names, written_call
from tests.traces import trace

NAMES = known_names(trace())
HIGH = "tides/high_water"


class WrittenCalls(unittest.TestCase):
    def test_forms_of_calls(self) -> None:
        for text in (
            '{"name": "high_water", "arguments": {"day": "today"}}',
            '{"tool": "tides/high_water", "args": {}}',
            '[{"function": {"name": "tides_high_water", "arguments": "{}"}}]',
            '```json\n{"tool_name": "high_water", "parameters": {}}\n```',
            '<tool_call>\n{"name": "high_water", "arguments": {}}\n</tool_call>',
            'I will look.\n<tool_call>{"name": "high_water", "arguments": {}}</tool_call>',
            '<function=high_water>{"day": "today"}</function>',
            '```python\nhigh_water(day="2031-03-14")\n```',
            'print(high_water(day="2031-03-14"))',
            "tides.high_water()",
            "times = high_water(day='x')",
        ):
            self.assertEqual(written_call(text, NAMES), HIGH, text)

    def test_words_that_are_no_call(self) -> None:
        for text in (
            "",
            "High water is at 14:31.",
            "I used high_water (14:31) for this.",
            '{"name": "high_water"}',
            '{"high_water": "14:31"}',
            '{"name": "MV Calder Finch", "arguments": []}',
            "You may call high_water(day) yourself: ```python\nhigh_water(day='x')\n```",
            "```python\nif tide:\n    high_water()\n```",
            '```json\n{"name": "high_water", "args": {}}\n```\nor\n```\nhigh_water()\n```',
            "```\nhigh_water()\n```\n```\nhigh_water()\n```",
            f'high_water(day="{"x" * 8000}")',
            "x" * 9000,
            "(" * 3000,
        ):
            self.assertIsNone(written_call(text, NAMES), text[:40])

    def test_a_name_that_the_model_saw_otherwise(self) -> None:
        seen = {HIGH: {"name": "hw_table"}}
        names = known_names(trace(seen_by_model=seen))
        self.assertEqual(written_call('{"name": "hw_table", "args": {}}', names), HIGH)

    @given(st.text(max_size=200))
    def test_no_text_breaks_it(self, text: str) -> None:
        written_call(text, NAMES)
