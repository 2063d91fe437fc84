"""The arms of a plan: every combination of agent and values, under names that stay the same."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from itertools import product

from ferox.formats.plan import PlanFile

MOST_ARMS = 200
BETWEEN = " · "
"""Stands between the parts of an arm's name."""


def agent_of_arm(name: str) -> str:
    """The agent that an arm is a variation of; an agent is its own."""
    return name.partition(BETWEEN)[0]


class TooManyArms(ValueError):
    """A plan that would make more arms than can be compared; the message has the number."""


@dataclass(frozen=True)
class Dimension:
    """One thing that is varied: its name, its values' names, and which of them is the baseline."""

    name: str
    values: tuple[str, ...]
    baseline: str


@dataclass(frozen=True)
class Arm:
    """One agent with one value of each dimension. `values`: the value's name by dimension;
    `changed`: the dimensions whose value is not the baseline's."""

    name: str
    agent: str
    values: Mapping[str, str]
    changed: tuple[str, ...]


def server_dimension(server: str) -> str:
    """The name of the dimension of a server's modes."""
    return f"server {server}"


def dimensions_of(plan: PlanFile) -> list[Dimension]:
    """What a plan varies, in the order of the format; a baseline that is no value stays so."""
    vary, base = plan.vary, plan.baseline
    named: list[tuple[str, list[str], str | None]] = [
        ("model", list(vary.model), base.model),
        ("instructions", list(vary.instructions), base.instructions),
        ("offer", list(vary.offer), base.offer),
        ("wording", list(vary.wording), base.wording),
        *((server_dimension(s), modes, base.server.get(s)) for s, modes in vary.server.items()),
        (
            "decoys",
            [str(n) for n in vary.decoys.add] if vary.decoys else [],
            None if base.decoys is None else str(base.decoys),
        ),
        ("faults", list(vary.faults), base.faults),
        ("params", list(vary.params), base.params),
    ]
    return [
        Dimension(name, tuple(values), chosen if chosen is not None else values[0])
        for name, values, chosen in named
        if values
    ]


def count_arms(plan: PlanFile) -> int:
    """How many arms a plan makes, without making them."""
    sizes = [len(dimension.values) for dimension in dimensions_of(plan)]
    count = 1
    if plan.design == "full":
        for size in sizes:
            count *= size
    else:
        count += sum(size - 1 for size in sizes)
    return len(plan.agents) * count


def arms_of(plan: PlanFile) -> list[Arm]:
    """The arms of a plan: of each agent the baseline first, then the rest in the file's order.

    Raises:
        TooManyArms: there would be more than 200.
    """
    count = count_arms(plan)
    if count > MOST_ARMS:
        raise TooManyArms(
            f"this makes {count} arms; at most {MOST_ARMS} can be run: vary less, "
            "or write `design: one_at_a_time`"
        )
    dimensions = dimensions_of(plan)
    labels = _value_labels(dimensions)
    return [
        _make_arm(agent, dimensions, values, labels)
        for agent in plan.agents
        for values in _combinations(dimensions, one_at_a_time=plan.design == "one_at_a_time")
    ]


def _combinations(dimensions: list[Dimension], *, one_at_a_time: bool) -> Iterator[tuple[str, ...]]:
    baseline = tuple(dimension.baseline for dimension in dimensions)
    yield baseline
    if one_at_a_time:
        for place, dimension in enumerate(dimensions):
            for value in dimension.values:
                if value != dimension.baseline:
                    yield (*baseline[:place], value, *baseline[place + 1 :])
        return
    for values in product(*(dimension.values for dimension in dimensions)):
        if values != baseline:
            yield values


def _value_labels(dimensions: list[Dimension]) -> dict[tuple[str, str], str]:
    """How each value stands in an arm's name: by itself where that says enough and once only."""
    labels = {
        (dimension.name, value): _value_label(dimension.name, value)
        for dimension in dimensions
        for value in dimension.values
    }
    counts = Counter(labels.values())
    return {
        key: label if counts[label] == 1 else f"{key[0]} {label}" for key, label in labels.items()
    }


def _value_label(dimension: str, value: str) -> str:
    if dimension == "decoys":
        return "1 decoy" if value == "1" else f"{value} decoys"
    kind, _, server = dimension.partition(" ")
    return f"{server} {value}" if kind == "server" else value


def _make_arm(
    agent: str,
    dimensions: list[Dimension],
    values: tuple[str, ...],
    labels: Mapping[tuple[str, str], str],
) -> Arm:
    chosen = {dimension.name: value for dimension, value in zip(dimensions, values, strict=True)}
    changed = tuple(d.name for d in dimensions if chosen[d.name] != d.baseline)
    name = BETWEEN.join([agent, *(labels[d, chosen[d]] for d in changed)])
    return Arm(name, agent, chosen, changed)
