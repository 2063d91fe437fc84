"""What would mend it: a small plan of the things that may lie behind a trial's failure."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, Literal

from ferox.core.arms import arms_of
from ferox.core.scoring.choices import NOT_OFFERED, NOTHING
from ferox.core.script import expected_tools
from ferox.formats.agent import AgentFile
from ferox.formats.fault import Fault
from ferox.formats.plan import AS_IS, PlanFile
from ferox.formats.result import Result
from ferox.formats.suite import Task
from ferox.formats.trace import Trace
from ferox.runs.snapshot import Snapshot
from ferox.workspace import Workspace
from ferox.workspace.write import yaml_text

WITHOUT, ONLY_EXPECTED, NO_OTHER_SERVERS = "without_", "only_expected", "no_other_servers"
NO_FAULTS, PLAINER, WITH_SENTENCE = "none", "plainer", "with_sentence"
MOST_WITHOUT, MOST_MODELS = 3, 6
"""Wrongly chosen tools that are left out, each in an arm; other models that are tried."""
PLAIN_WORDS = "This does not work at the moment. Nothing was done."
"""What a fault says in plainer words."""
IN_WORDS = ("tool_error", "protocol_error", "status", "garbled", "empty")
"""Faults whose answer can be put in plainer words."""

Aspect = Literal["offer", "faults", "model", "instructions"]
ASPECTS: dict[str, tuple[Aspect, ...]] = {
    "choice": ("offer", "model", "instructions"),
    "arguments": ("model", "instructions"),
    "order": ("faults", "model", "instructions"),
    "failures": ("faults", "model", "instructions"),
    "latency": ("offer", "faults", "model"),
    "outcome": ("offer", "faults", "model", "instructions"),
}
"""What is changed, one thing at a time, by the families of which a check failed."""


class MendingError(ValueError):
    """A trial of which nothing can be tried; the message says why."""


def vary_of_arm(snapshot: Snapshot, name: str) -> dict[str, Any]:
    """What a plan had varied for an arm, with the arm's values alone; empty for an agent."""
    arm, plan = snapshot.arms.get(name), snapshot.plan
    if arm is None or plan is None:
        return {}
    vary: dict[str, Any] = plan.vary.model_dump(mode="json", by_alias=True, exclude_unset=True)
    found: dict[str, Any] = {}
    for dimension, value in arm.values.items():
        kind, _, server = dimension.partition(" ")
        if kind == "server":
            found.setdefault("server", {})[server] = [value]
        elif kind == "decoys":
            found["decoys"] = {**vary["decoys"], "add": [int(value)]}
        elif kind == "model":
            models = vary["model"]
            found["model"] = {value: models[value] if isinstance(models, dict) else value}
        else:
            found[kind] = {value: vary[kind][value]}
    return found


def mend_plan(
    workspace: Workspace,
    result: Result,
    trace: Trace,
    snapshot: Snapshot,
    *,
    trials: int,
    sentence: str | None = None,
) -> PlanFile:
    """A plan that changes one thing at a time of what failed in a trial of a run.

    It begins with the agent, or the arm, as that run had it by its plan. `sentence` is added to its
    instructions in one arm.

    Raises:
        MendingError: it did not fail, or its task or agent is gone.
    """
    failed = {c["family"] for c in result["checks"] if c["passed"] is False}
    if not failed:
        raise MendingError("it did not fail, so there is nothing to mend")
    task = _task_now(workspace, result["suite"], result["task"])
    arm = result["agent"]
    agent = snapshot.agent_name(arm)
    if agent not in workspace.agents:
        raise MendingError(f"the agent `{agent}` is no longer in the workspace")
    aspects = {aspect for family in failed for aspect in ASPECTS[family]}
    vary = vary_of_arm(snapshot, arm)
    if "offer" in aspects:
        _vary_offer(vary, result, trace, task)
    faults = snapshot.of_arm(arm).find_task(result["suite"], result["task"]).faults
    if "faults" in aspects and faults:
        vary["faults"] = {**_first_of(vary, "faults"), **dict(_faults(faults))}
    if "model" in aspects:
        vary["model"] = _models(workspace, snapshot.agents[arm], vary.get("model", {}))
    if "instructions" in aspects and sentence:
        text = f"{snapshot.instructions[arm].rstrip()}\n\n{sentence.strip()}\n"
        vary["instructions"] = {**_first_of(vary, "instructions"), WITH_SENTENCE: text}
    address = f"{result['suite']}/{result['task']}"
    plan = PlanFile.model_validate(
        {
            "ferox": 1,
            "plan": f"mend-{result['task']}-{agent}",
            "title": f"What would mend {result['task']} with {arm}?",
            "tasks": [address],
            "agents": [agent],
            "vary": vary,
            "design": "one_at_a_time",
            "trials": trials,
            "mends": address,
        }
    )
    if len(arms_of(plan)) < 2:
        raise MendingError(
            f"what failed ({', '.join(sorted(failed))}) leaves nothing to change by itself; "
            "add a sentence to its instructions"
        )
    return plan


def _vary_offer(vary: dict[str, Any], result: Result, trace: Trace, task: Task) -> None:
    """Vary the offer, and leave the decoys out if there were any."""
    decoys = vary.get("decoys")
    if decoys and decoys["add"] != [0]:
        decoys["add"].append(0)
    offers = _offers(result, trace, task, decoys["from"] if decoys else None)
    if offers:
        vary["offer"] = {**_first_of(vary, "offer"), **offers}


def _first_of(vary: dict[str, Any], dimension: str) -> dict[str, Any]:
    """What a dimension begins with: the arm's own value, else as the files have it."""
    return dict(vary.get(dimension, {AS_IS: AS_IS}))


def _task_now(workspace: Workspace, suite: str, task: str) -> Task:
    for one in workspace.suites[suite].tasks if suite in workspace.suites else ():
        if one.task == task:
            return one
    raise MendingError(f"the task {suite}/{task} is no longer in the workspace")


def _offers(
    result: Result, trace: Trace, task: Task, decoys: str | None
) -> dict[str, dict[str, Any]]:
    """Offers without what was wrongly chosen, of the expected tools alone, and of their servers
    alone. `decoys` come from that server, and are no part of an offer."""
    there = {address for address in trace["tools"] if address.split("/", 1)[0] != decoys}
    expected = {*expected_tools(task)} & there
    offers: dict[str, dict[str, Any]] = {}
    for address in _wrongly_chosen(result, expected)[:MOST_WITHOUT]:
        if address in there:
            offers[WITHOUT + address.split("/", 1)[1]] = _offer_of(there - {address})
    if decoys is None and expected and expected != there:
        offers[ONLY_EXPECTED] = _offer_of(expected)
    servers = {address.split("/", 1)[0] for address in expected}
    if decoys is None and servers and servers < {address.split("/", 1)[0] for address in there}:
        offers[NO_OTHER_SERVERS] = dict.fromkeys(sorted(servers), "all")
    return offers


def _wrongly_chosen(result: Result, expected: set[str]) -> list[str]:
    """Tools that were chosen in the place of others, and are not expected themselves."""
    choices = result.get("choices") or {}
    chosen = {
        tool
        for wanted, row in choices.items()
        for tool in row
        if tool not in (wanted, NOTHING, NOT_OFFERED)
    }
    return sorted(chosen - expected)


def _offer_of(addresses: set[str]) -> dict[str, list[str]]:
    offer: dict[str, list[str]] = {}
    for address in sorted(addresses):
        server, tool = address.split("/", 1)
        offer.setdefault(server, []).append(tool)
    return offer


def _faults(faults: list[Fault]) -> Iterator[tuple[str, Any]]:
    yield NO_FAULTS, NO_FAULTS
    plain = [_in_plain_words(fault) for fault in faults]
    if any(fault.do in IN_WORDS for fault in faults):
        dumped = (f.model_dump(mode="json", exclude_unset=True) for f in plain)
        yield PLAINER, {"instead": list(dumped)}


def _in_plain_words(fault: Fault) -> Fault:
    """A fault whose answer is a tool's error in plain words, striking when it did."""
    if fault.do not in IN_WORDS:
        return fault
    when = {key: getattr(fault, key) for key in fault.model_fields_set & {*WHEN_AND_WHERE}}
    return Fault.model_validate({**when, "do": "tool_error", "text": PLAIN_WORDS})


WHEN_AND_WHERE = ("server", "tool", "call", "rate", "seed", "all")


def _models(workspace: Workspace, agent: AgentFile, first: dict[str, str]) -> dict[str, str]:
    """The agent's own model first, then the workspace's others."""
    if agent.model is None:
        return {}
    own = first or {agent.model: agent.model}
    others = [name for name in workspace.settings.models if name != agent.model]
    return {**own, **{name: name for name in others[:MOST_MODELS] if name not in own}}


def plan_text(plan: PlanFile) -> str:
    """A plan as a file holds it."""
    return yaml_text(plan.model_dump(mode="json", by_alias=True, exclude_unset=True))


def change_text(dimension: str, value: str) -> str:
    """A change of such a plan, in words."""
    if dimension == "offer":
        if value.startswith(WITHOUT):
            return f"without `{value.removeprefix(WITHOUT)}`"
        return {
            ONLY_EXPECTED: "only the tools that the script expects",
            NO_OTHER_SERVERS: "without the servers that it does not need",
        }.get(value, value)
    if dimension == "faults":
        return {
            NO_FAULTS: "without the task's faults",
            PLAINER: "the fault's answer in plainer words",
        }.get(value, value)
    if dimension == "instructions":
        return "with your sentence in its instructions"
    if dimension == "decoys":
        return "without decoys" if value == "0" else f"with {value} decoys"
    return f"with the model `{value}`" if dimension == "model" else f"{dimension} {value}"


def change_meaning(dimension: str, value: str) -> str:
    """What it means if that change mends it."""
    if dimension == "offer":
        if value.startswith(WITHOUT):
            return "it takes that tool for the one that is needed"
        return "tools that it does not need lead it astray"
    if dimension == "faults":
        if value == PLAINER:
            return "the fault's own words mislead it"
        return "it fails where the fault strikes"
    if dimension == "instructions":
        return "the sentence is what it lacked"
    if dimension == "decoys":
        return "tools that it does not need lead it astray"
    return "its model is what fails" if dimension == "model" else "this is what fails"
