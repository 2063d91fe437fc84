"""Values in a terminal: several lines for what is long, a table for a table."""

from __future__ import annotations

import unittest

from ferox.cli.value_lines import MOST_LINES, value_lines


class Lines(unittest.TestCase):
    def test_what_is_short_stands_on_one_line(self) -> None:
        self.assertEqual(value_lines({"high_water": "14:31"}), ['{"high_water": "14:31"}'])
        self.assertEqual(value_lines("At 14:31."), ["At 14:31."])

    def test_text_keeps_its_lines_and_loses_control_characters(self) -> None:
        self.assertEqual(value_lines("N1\n\x1b[31mN2\tfree"), ["N1", "␛[31mN2 free"])

    def test_objects_of_the_same_fields_are_a_table(self) -> None:
        rows = [{"berth": "N1", "m": 7.4}, {"berth": "S2", "m": 12}]
        lines = value_lines(rows)
        self.assertEqual([line.split() for line in lines if "─" not in line],
                         [["berth", "m"], ["N1", "7.4"], ["S2", "12"]])  # fmt: skip

    def test_a_table_inside_an_object_stands_under_its_name(self) -> None:
        rows = [{"berth": "N1"}, {"berth": "S2"}]
        lines = value_lines({"side": "north", "berths": rows})
        self.assertEqual([x.strip() for x in lines[:3]], ["side: north", "berths:", "berth"])

    def test_markup_of_a_result_is_only_text(self) -> None:
        rows = [{"note": "[red]N1[/red]"}, {"note": "[bold]"}]
        self.assertIn("[red]N1[/red]", "\n".join(value_lines(rows)))

    def test_long_values_are_indented_and_cut(self) -> None:
        lines = value_lines({"rows": list(range(400))})
        self.assertEqual(len(lines), MOST_LINES + 1)
        self.assertIn("more lines", lines[-1])
        many = value_lines([{"n": n} for n in range(200)])
        self.assertEqual(many[-1], f"… {200 - MOST_LINES} more rows")
