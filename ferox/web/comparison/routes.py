"""B against A, for the screens."""

from __future__ import annotations

from ferox.formats.comparison import ComparisonReport
from ferox.runs.comparison import ComparisonError, SideName, compare_sides
from ferox.runs.setup_differences import setup_differences
from ferox.store.database import read_session
from ferox.store.runs import agents_of_runs, newest_runs
from ferox.web.comparison import shapes
from ferox.web.responses import RequestRefused
from ferox.web.routing import Routes
from ferox.web.site import site

MOST_RUNS = 100

routes = Routes("comparison")


@routes.get("/api/compare")
def compare_two(query: shapes.CompareQuery) -> ComparisonReport:
    """Whether B is better than A, where, and how far it can be believed."""
    with read_session(site.engine) as session:
        try:
            a, b = SideName.parse(query.a), SideName.parse(query.b)
            return compare_sides(session, a, b, query.same_within)
        except ComparisonError as error:
            raise RequestRefused(422, str(error)) from None


@routes.get("/api/compare/setup")
def compare_setups(query: shapes.SetupQuery) -> shapes.SetupDifferences:
    """What differs in the set-up of two sides, as texts."""
    with read_session(site.engine) as session:
        try:
            a, b = SideName.parse(query.a), SideName.parse(query.b)
            return shapes.SetupDifferences(parts=setup_differences(session, a, b))
        except ComparisonError as error:
            raise RequestRefused(422, str(error)) from None


@routes.get("/api/compare/runs")
def comparable_runs() -> shapes.ComparableRuns:
    """The newest runs and their agents, to choose from."""
    with read_session(site.engine) as session:
        runs = newest_runs(session, most=MOST_RUNS)
        agents = agents_of_runs(session, [run.id for run in runs])
        return shapes.ComparableRuns(
            runs=[
                shapes.ComparableRun(
                    run=run.id,
                    title=run.title,
                    plan=run.plan,
                    created_at=run.created_at,
                    agents=agents.get(run.id, []),
                )
                for run in runs
            ]
        )
