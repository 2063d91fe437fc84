"""The stand-in: tools are chosen by their words, slips are seeded, nothing is looked up."""

from __future__ import annotations

import json
import unittest
from typing import Any

from ferox.core.clock import Clock
from ferox.core.likeness import ToolWords
from ferox.formats.stand_in import Manner, StandInFile
from ferox.stand_in.conversation import Conversation, read_result
from ferox.stand_in.model import Spoken, StandIn
from ferox.stand_in.values import made_up, place_values

DAY = {"type": "object", "properties": {"day": {"type": "string"}}, "required": ["day"]}
TOOLS: dict[str, tuple[str, Any]] = {
    "high_water": ("Times of high water on one day.", DAY),
    "low_water": ("Times of low water on one day.", DAY),
    "tide_window": ("Times between which the water is deep enough, on one day.", DAY),
    "assign_berth": ("Book a berth for a vessel.", {"type": "object", "properties": {}}),
}
INTENT = "times of high water on one day"


def stand_in(seed: int = 1, does: Any = None, **slips: float) -> StandIn:
    document = StandInFile.model_validate(
        {
            "ferox": 1,
            "stand_in": "desk",
            "manners": {"test": slips},
            "scenes": [
                {
                    "request": "when is high water",
                    "does": does
                    or [
                        {"as": "high", "intent": INTENT, "values": {"day": {"day": 0}}},
                        {"say": "It is at {{ high.at }}.", "from_memory": "It is at 03:30."},
                    ],
                }
            ],
        }
    )
    return StandIn(document, "test", seed, Clock("2031-03-14T06:30:00Z"))


def ask(model: StandIn, history: list[Any], tools: Any = None) -> Spoken:
    return model.answer(history, TOOLS if tools is None else tools)


USER = {"role": "user", "content": "When is high water?"}


def result(spoken: Spoken, value: Any) -> list[Any]:
    """A history in which the proposed call was answered."""
    text = value if isinstance(value, str) else json.dumps(value)
    (call,) = spoken.calls
    function = {"name": call.name, "arguments": json.dumps(call.args)}
    return [
        USER,
        {"role": "assistant", "tool_calls": [{"id": call.id, "function": function}]},
        {"role": "tool", "tool_call_id": call.id, "content": text},
    ]


class Choosing(unittest.TestCase):
    def test_the_nearest_words_win_and_the_wording_decides(self) -> None:
        self.assertEqual(ask(stand_in(), [USER]).calls[0].name, "high_water")
        renamed = {"alpha": TOOLS["tide_window"], "omega": TOOLS["high_water"]}
        self.assertEqual(ask(stand_in(), [USER], renamed).calls[0].name, "omega")
        swapped = {
            "high_water": ("Book a berth.", DAY),
            "zz": ("Times of high water, the highest water, on one day.", DAY),
        }
        thin = {**swapped, "high_water": ("", DAY)}
        names = {ask(stand_in(), [USER], tools).calls[0].name for tools in (swapped, thin)}
        self.assertEqual(names, {"zz", "high_water"})

    def test_a_scene_that_heeds_its_instructions_looks_up_only_where_they_say_so(self) -> None:
        for instructions, called in (("Look it up.", True), ("Be quick.", False), (None, False)):
            model = stand_in()
            scene = model.document.scenes[0].model_copy(update={"heeds": "(?i)look it up"})
            model.document = model.document.model_copy(update={"scenes": [scene]})
            system = [{"role": "system", "content": instructions}] if instructions else []
            spoken = ask(model, [*system, USER])
            self.assertEqual((bool(spoken.calls), spoken.text),
                             (called, None if called else "It is at 03:30."))  # fmt: skip

    def test_no_tool_near_enough_means_no_call(self) -> None:
        far = {"crane_hours": ("Opening hours of the crane.", DAY)}
        spoken = ask(stand_in(), [USER], far)
        self.assertEqual((spoken.calls, spoken.text), ((), "It is at 03:30."))
        self.assertEqual(ask(stand_in(), [USER], {}).calls, ())

    def test_likeness_ranks_look_alikes_next(self) -> None:
        ranked = ToolWords(TOOLS).ranked_tools(INTENT)
        self.assertEqual(
            [name for _, name in ranked][:3], ["high_water", "low_water", "tide_window"]
        )

    def test_values_go_to_the_arguments_they_mean(self) -> None:
        schema = {"properties": {"vessel_imo": {}, "berth_code": {}, "note": {}}}
        self.assertEqual(
            place_values({"imo": 1, "berth": 2, "colour": 3}, schema),
            {"vessel_imo": 1, "berth_code": 2},
        )


class Conversing(unittest.TestCase):
    def test_it_goes_on_with_what_came_back(self) -> None:
        model = stand_in()
        first = ask(model, [USER])
        self.assertEqual(first.calls[0].args, {"day": "2031-03-14"})
        self.assertEqual(ask(model, result(first, {"at": "14:31"})).text, "It is at 14:31.")

    def test_a_failure_is_tried_again_then_another_way(self) -> None:
        does = [
            {"as": "h", "intent": INTENT, "retries": 1, "if_failed": [{"say": "I cannot tell."}]}
        ]
        model = stand_in(does=does)
        first = ask(model, [USER])
        again = ask(model, result(first, "The service timed out."))
        self.assertEqual(again.calls[0].name, first.calls[0].name)
        self.assertNotEqual(again.calls[0].id, first.calls[0].id)
        self.assertEqual(ask(model, result(again, "Error: timed out")).text, "I cannot tell.")

    def test_it_waits_for_the_go_ahead_and_heeds_a_no(self) -> None:
        does = [{"say": "Shall I?", "asks": True}, {"say": "Done."}]
        for words, wanted in (("Yes, go on.", "Done."), ("No, leave it.", "Understood")):
            model = stand_in(does=does)
            self.assertEqual(ask(model, [USER]).text, "Shall I?")
            history = [USER, {"role": "assistant", "content": "Shall I?"}]
            text = ask(model, [*history, {"role": "user", "content": words}]).text
            self.assertTrue((text or "").startswith(wanted), text)

    def test_a_request_it_does_not_know(self) -> None:
        other = {"role": "user", "content": "Paint my boat green"}
        self.assertIn("no way to help", ask(stand_in(), [other]).text or "")

    def test_histories_as_frameworks_write_them(self) -> None:
        parts = [{"role": "user", "content": [{"type": "text", "text": "hi"}]}]
        self.assertEqual(Conversation.read(parts).said, ("hi",))
        self.assertEqual(read_result("{'a': 1}").value, {"a": 1})
        words = [
            {"role": "user", "content": "New task:\nWhen is high water?"},
            {"role": "assistant", "content": "Calling tools:\n[{'id': 'p1', 'type': 'function'}]"},
            {"role": "user", "content": "Observation:\n{'at': '14:31'}\nNew task:\nAnd low water?"},
            {"role": "assistant", "content": "Calling tools:\n[{'id': 'p2'}]"},
            {"role": "user", "content": "Error:\nno table\n"},
        ]
        found = Conversation.read(words)
        self.assertEqual(found.said, ("When is high water?", "And low water?"))
        self.assertEqual(found.results, {"p1": "{'at': '14:31'}", "p2": "Error: no table"})
        self.assertTrue(read_result(found.results["p2"]).failed)
        mine = [{"role": "user", "content": "Observation: the tide is high"}]
        self.assertEqual(Conversation.read(mine).said, ("Observation: the tide is high",))
        self.assertTrue(read_result("Error: no such vessel").failed)
        self.assertFalse(read_result('{"note": "no error"}').failed)


class Slipping(unittest.TestCase):
    def test_steady_never_slips(self) -> None:
        names = {ask(stand_in(seed), [USER]).calls[0].name for seed in range(40)}
        self.assertEqual(names, {"high_water"})

    def test_the_same_seed_slips_in_the_same_way(self) -> None:
        def spoken(seed: int) -> Any:
            return ask(stand_in(seed, look_alike=0.5, missing_argument=0.3), [USER])

        self.assertEqual([spoken(s) for s in range(20)], [spoken(s) for s in range(20)])
        self.assertGreater(len({spoken(s).calls[0].name for s in range(20)}), 1)

    def test_each_slip_is_what_it_says(self) -> None:
        (call,) = ask(stand_in(look_alike=1), [USER]).calls
        self.assertEqual(call.name, "low_water")
        (call,) = ask(stand_in(missing_argument=1), [USER]).calls
        self.assertEqual(call.args, {})
        (call,) = ask(stand_in(mistyped_argument=1), [USER]).calls
        self.assertEqual(call.args, {"day": "2031-03-13"})
        (call,) = ask(stand_in(extra_argument=1), [USER]).calls
        self.assertEqual(set(call.args), {"day", "priority"})
        (call,) = ask(stand_in(unknown_tool=1), [USER]).calls
        self.assertNotIn(call.name, TOOLS)
        self.assertEqual(ask(stand_in(from_memory=1), [USER]).text, "It is at 03:30.")
        self.assertEqual(ask(stand_in(skipped_step=1), [USER]).text, "It is at 03:30.")

    def test_slips_after_a_result(self) -> None:
        model = stand_in(ignored_error=1)
        found = ask(model, result(ask(model, [USER]), "Error: timed out"))
        self.assertEqual(found.text, "It is at 03:30.")
        model = stand_in(repeated_call=1)
        first = ask(model, [USER])
        again = ask(model, result(first, {"at": "1"}))
        self.assertEqual(
            (again.calls[0].name, again.calls[0].args), (first.calls[0].name, first.calls[0].args)
        )
        self.assertEqual(ask(model, result(again, {"at": "1"})).text, "It is at 1.")
        model = stand_in(never_stops=1)
        spoken = ask(model, [USER])
        for _ in range(10):
            spoken = ask(model, result(spoken, {"at": "1"}))
            self.assertTrue(spoken.calls)

    def test_confirmation_and_order(self) -> None:
        does = [
            {"say": "Shall I?", "asks": True},
            {"as": "a", "intent": "book a berth for a vessel"},
            {"as": "b", "intent": INTENT},
        ]
        (call,) = ask(stand_in(does=does, no_confirmation=1), [USER]).calls
        self.assertEqual(call.name, "assign_berth")
        (call,) = ask(stand_in(does=does, no_confirmation=1, out_of_order=1), [USER]).calls
        self.assertEqual(call.name, "high_water")

    def test_manners_are_shares(self) -> None:
        self.assertTrue(all(0 <= v <= 1 for v in Manner().model_dump().values()))
        made = made_up(
            {"type": "string", "pattern": "^[0-9]{7}$"}, "imo", Clock("2031-03-14T06:30:00Z"), 1
        )
        self.assertRegex(made, r"^\d{7}$")
