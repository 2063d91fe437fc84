"""Models recorded as they pass, and replayed by the canonical request."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

from ferox.agents.links.plain import PlainLink
from ferox.core.masking import Masker
from ferox.core.scoring import score_trial
from ferox.core.script import compile_script
from ferox.gateway.gateway import Gateway
from ferox.recordings.model_recording import ModelCapture, ModelRecording, request_key
from ferox.recordings.recording import RecordingError
from ferox.runs.captures import Captures
from ferox.runs.snapshot import take_snapshot
from ferox.runs.trial import TrialJob, TrialRun, TrialSurroundings
from ferox.runs.trial_seams import SeamTaps
from ferox.workspace import WorkspaceError, load_workspace
from tests.test_models import KEY, STREAM, endpoint
from tests.workspaces import WorkspaceCase, know_secrets

CALLS = {"choices": [{"index": 0, "finish_reason": "tool_calls", "message": {
    "role": "assistant", "content": None, "tool_calls": [
        {"id": "x1", "type": "function",
         "function": {"name": "high_water", "arguments": '{"day": "2031-03-14"}'}}]}}],
    "usage": {"prompt_tokens": 9, "completion_tokens": 4}}  # fmt: skip
SAYS = {"choices": [{"index": 0, "finish_reason": "stop",
                     "message": {"role": "assistant", "content": "At 14:31."}}]}  # fmt: skip


class Keys(WorkspaceCase):
    def test_what_has_no_part_in_the_answer_is_passed_over(self) -> None:
        body = {"model": "a", "messages": [{"role": "user", "content": "x"}], "temperature": 0}
        same = {"temperature": 0.0, "messages": body["messages"], "model": "b", "stream": False,
                "user": "me", "seed": None}  # fmt: skip
        self.assertEqual(request_key("p", body), request_key("p", same))
        for other in ({**body, "temperature": 1}, {**body, "stream": True}):
            self.assertNotEqual(request_key("p", body), request_key("p", other))
        self.assertNotEqual(request_key("p", body), request_key("q", body))

    def test_a_bad_file_is_reported_by_its_line(self) -> None:
        head = '{"ferox_model_recording": 1, "model": "m", "captured_at": "2031-03-14T06:30:00Z"}'
        for text, words in (
            ("", "is empty"),
            ("[", "line 1"),
            ('{"model": "m"}', "line 1: ferox_model_recording"),
            (f'{head}\n{{"path": "p"}}', "line 2: request"),
        ):
            with self.assertRaisesRegex(RecordingError, words):
                ModelRecording.parse("r.jsonl", text)


class Replayed(WorkspaceCase):
    def setUp(self) -> None:
        super().setUp()
        know_secrets(self, FEROX_TEST_MODEL_KEY=KEY)

    def models(self, words: str) -> None:
        self.write(
            "ferox.yaml",
            f"ferox: 1\nname: x\nmodels:\n  steady: {words}\n  hasty: "
            "{stand_in: stand_ins/desk.yaml}\n",
        )

    async def trial(self, captures: bool = False) -> Any:
        loaded = load_workspace(self.root)
        snapshot = take_snapshot(loaded, ["small"], ["plain"])
        kept = Captures(self.root, 1, snapshot)
        job = TrialJob(snapshot, "small", "high", "plain", 1, 1)
        async with Gateway().serve() as gateway:
            taps = SeamTaps(model_capture=kept.model_capture) if captures else SeamTaps()
            surroundings = TrialSurroundings(
                gateway=gateway, link=PlainLink(), folder=self.root, taps=taps
            )
            trace = await TrialRun(job, surroundings).carry_out()
        kept.close()
        return trace, score_trial(compile_script(snapshot.suites["small"],
                                           snapshot.find_task("small", "high")), trace)  # fmt: skip

    def run_trial(self, captures: bool = False) -> Any:
        import asyncio

        return asyncio.run(self.trial(captures))

    def record(self) -> Path:
        with endpoint(CALLS, SAYS) as (base, asked):
            self.models(f'{{base_url: "{base}", api_key: {{secret: FEROX_TEST_MODEL_KEY}}}}')
            _, result = self.run_trial(captures=True)
        self.assertEqual(result["verdict"], "pass")
        self.assertEqual(len(asked), 2)
        (path,) = (self.root / ".ferox/captures/run-1").glob("*.jsonl")
        self.assertEqual(path.name, "model-steady.jsonl")
        self.assertNotIn(KEY, path.read_text())
        target = self.root / "recordings/steady.jsonl"
        target.parent.mkdir(exist_ok=True)
        target.write_text(path.read_text())
        return target

    def test_a_recorded_model_plays_the_same_trial_with_no_endpoint(self) -> None:
        self.record()
        self.models("{recording: recordings/steady.jsonl}")
        trace, result = self.run_trial()
        self.assertEqual(result["verdict"], "pass")
        models = [e for e in trace["events"] if e["kind"] == "model"]
        self.assertEqual(models[0]["usage"], {"input": 9, "output": 4})
        self.assertEqual(trace["events"][-2]["text"], "At 14:31.")

    def test_what_was_not_recorded_is_nobodys_fault(self) -> None:
        self.record()
        self.change("tasks/small.yaml", "When is high water", "Tell me when is high water")
        self.models("{recording: recordings/steady.jsonl}")
        _, result = self.run_trial()
        self.assertEqual(result["verdict"], "error")
        self.assertIn("recordings/steady.jsonl holds no answer", result["reason"])

    def test_or_the_endpoint_is_asked(self) -> None:
        self.record()
        self.change("tasks/small.yaml", "When is high water", "Tell me when is high water")
        with endpoint(CALLS, SAYS) as (base, asked):
            self.models(f'{{recording: recordings/steady.jsonl, miss: live, base_url: "{base}"}}')
            _, result = self.run_trial()
        self.assertEqual((result["verdict"], len(asked)), ("pass", 2))

    def test_the_files_are_checked(self) -> None:
        for words, wanted in (
            ("{recording: nowhere.jsonl}", "`nowhere.jsonl`: no such file"),
            ("{stand_in: stand_ins/desk.yaml, miss: live}", "`miss: live` needs"),
            ("{stand_in: stand_ins/desk.yaml, recording: ferox.yaml}", "needs either"),
        ):
            self.models(words)
            with self.assertRaises(WorkspaceError) as caught:
                load_workspace(self.root)
            self.assertIn(wanted, str(caught.exception.problems))


class Capturing(WorkspaceCase):
    def test_secrets_are_masked_and_nothing_makes_no_file(self) -> None:
        path = self.root / "c.jsonl"
        capture = ModelCapture(path, "m", Masker({KEY}, names=False))
        capture.close()
        self.assertFalse(path.exists())
        capture = ModelCapture(path, "m", Masker({KEY}, names=False))
        capture.note_exchange(
            "chat/completions", {"messages": [KEY]}, 200, f"said {KEY}", 0.1, None
        )
        capture.close()
        self.assertNotIn(KEY, path.read_text())
        found = ModelRecording.parse("c", path.read_text())
        self.assertEqual(found.exchanges[0].answer, "said •••")

    def test_streams_are_kept_as_they_came(self) -> None:
        text = "".join(STREAM)
        path = self.root / "c.jsonl"
        capture = ModelCapture(path, "m", Masker())
        capture.note_exchange("chat/completions", {"stream": True}, 200, text, 0.1, 0.05)
        found = ModelRecording.parse("c", path.read_text())
        self.assertEqual(found.exchanges[0].answer, text)
        self.assertEqual(json.loads(path.read_text().splitlines()[1])["first_s"], 0.05)
