"""A stand-in for agents that act by code: stubs read, calls written, observations understood."""

from __future__ import annotations

import ast
import unittest
from typing import Any

from ferox.stand_in.code_writing import CodeWriting
from ferox.stand_in.conversation import Conversation

PROMPT = '''You act by code. It must be opened with '<code>', and closed with '</code>'.
<code>
def tide_window(day: string, min_depth_m: number) -> dict:
    """Times between which the water is deep.

    Args:
        day: The day.
        min_depth_m: metres
    """

def final_answer(answer: any) -> any:
    """Provides a final answer."""

</code>
'''


def messages(*more: Any, prompt: str = PROMPT) -> list[dict[str, Any]]:
    return [{"role": "system", "content": prompt}, *more]


class Reading(unittest.TestCase):
    def test_stubs_are_tools(self) -> None:
        asked = CodeWriting.asked_for(messages())
        assert asked is not None
        found, schema = asked.tools["tide_window"]
        self.assertEqual(found, "Times between which the water is deep.")
        properties = {"day": {"type": "string"}, "min_depth_m": {"type": "number"}}
        self.assertEqual(schema, {"type": "object", "properties": properties})
        self.assertEqual(list(asked.tools), ["tide_window"])

    def test_other_instructions_ask_for_no_code(self) -> None:
        for prompt in ("You are the duty officer.", PROMPT.replace("final_answer", "reply"),
                       PROMPT.replace("opened with", "begun with")):  # fmt: skip
            self.assertIsNone(CodeWriting.asked_for(messages(prompt=prompt)))

    def test_observations_are_what_the_code_printed(self) -> None:
        asked = CodeWriting.asked_for(messages())
        assert asked is not None
        last = "Last output from code snippet:\n"
        printed = f"Observation:\nExecution logs:\n{{'opens': '13:10'}}\n{last}None"
        (_, plain) = asked.message_history(messages({"role": "user", "content": printed}))
        self.assertEqual(plain["content"], "Observation:\n{'opens': '13:10'}")
        silent = f"Observation:\nExecution logs:\n{last}Done.\nNew task:\nIMO 9."
        history = asked.message_history(messages({"role": "user", "content": silent}))
        self.assertEqual(Conversation.read(history).said, ("IMO 9.",))


class Writing(unittest.TestCase):
    def test_calls_and_words_are_python(self) -> None:
        asked = CodeWriting.asked_for(messages())
        assert asked is not None
        calls = asked.write_message(
            None, [("tide_window", {"day": "it's today", "min_depth_m": 7.5})]
        )
        code = calls.split("<code>\n")[1].split("\n</code>")[0]
        call: Any = ast.parse(code).body[0]
        self.assertEqual(call.value.func.id, "tide_window")
        self.assertEqual(ast.literal_eval(call.value.keywords[0].value), "it's today")
        self.assertIn("final_answer('At 13:10.')", asked.write_message("At 13:10.", []))
