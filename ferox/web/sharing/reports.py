"""Reports for the screens: texts that a browser keeps as files."""

from __future__ import annotations

from ferox.reports.comparison_page import comparison_page
from ferox.reports.run_page import run_page
from ferox.reports.run_text import run_markdown
from ferox.runs.baseline import BaselineError, read_baseline
from ferox.runs.comparison import ComparisonError, SideName, compare_sides
from ferox.runs.run_report import report_run
from ferox.runs.setup_differences import setup_differences
from ferox.store.database import read_session
from ferox.web.responses import RequestRefused
from ferox.web.routing import Routes
from ferox.web.runs.routes import the_run
from ferox.web.runs.shapes import RunPath
from ferox.web.sharing import shapes
from ferox.web.site import site

routes = Routes("reports")


@routes.get("/api/runs/<int:run>/report")
def run_report(path: RunPath, query: shapes.ReportQuery) -> shapes.ReportText:
    """What a run came to, as a page or as markdown."""
    with read_session(site.engine) as session:
        the_run(session, path.run)
        try:
            against = query.against
            baseline = None if against is None else read_baseline(session, str(against))
        except BaselineError as error:
            raise RequestRefused(422, str(error)) from None
        found = report_run(session, path.run, baseline)
    if query.form == "markdown":
        return shapes.ReportText(name=f"run-{path.run}.md", text=run_markdown(found))
    return shapes.ReportText(name=f"run-{path.run}.html", text=run_page(found))


@routes.get("/api/compare/report")
def comparison_report(query: shapes.CompareReportQuery) -> shapes.ReportText:
    """B against A as a page."""
    with read_session(site.engine) as session:
        try:
            a, b = SideName.parse(query.a), SideName.parse(query.b)
            page = comparison_page(compare_sides(session, a, b), setup_differences(session, a, b))
        except ComparisonError as error:
            raise RequestRefused(422, str(error)) from None
    return shapes.ReportText(name=f"{a}-and-{b}.html".replace(":", "-"), text=page)
