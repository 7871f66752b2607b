"""The summary of a run and a worked calculation in a terminal, drawn with rich."""

from __future__ import annotations

from shutil import get_terminal_size
from typing import TYPE_CHECKING, Any, Final

import pandas as pd
from rich.console import Console
from rich.rule import Rule
from rich.table import Table
from rich.text import Text

from sandwich.design.advice import REMEDY
from sandwich.design.bars import EXTRA
from sandwich.design.results import LAYER, REQUIRED
from sandwich.design.summary import added_by_layer, certificate_lines, peaks, worst_checks
from sandwich.report.numbers import cell, digits, utilisation
from sandwich.report.shown import Shown

SI = Shown()
WHOLE: Final = ("utilisation", "ratio", "status", "exceeded", "load factor")

if TYPE_CHECKING:
    from sandwich.check import Checked
    from sandwich.inspect import Inspected
    from sandwich.methods import Compared
    from sandwich.result import RunResult
    from sandwich.serviceability import ServiceState
    from sandwich.trace import Quantity, Sheet
    from sandwich.trial import Trial


def print_summary(result: RunResult, console: Console) -> None:
    """Where to look, then what fails, then where most steel is."""
    shown = Shown(result.job.output.units)
    result = shown.result(result)
    console.print(Rule(Text(result.job.title, "bold"), align="left"))
    if result.report is not None:
        console.print(f"report   {result.report}", soft_wrap=True)
        if (result.folder / "maps").is_dir():
            console.print(f"maps     {result.folder / 'maps'}", soft_wrap=True)
    console.print(f"tables   {result.folder}", soft_wrap=True)
    if result.reused:
        new = [z.name for z in result.zones if z.name not in result.reused]
        made = f"; designed again: {', '.join(new)}" if new else "; nothing else has changed"
        console.print(f"reused   {', '.join(result.reused)}{made}", soft_wrap=True)
    if result.doubts:
        first = "" if result.grave else f", the first: {result.doubts[0]}"
        console.print(f"doubts   {len(result.doubts)}{first}", soft_wrap=True, markup=False)
        for doubt in result.doubts[: result.grave]:
            console.print(Text(f"         {doubt}", "bold yellow"), soft_wrap=True)
    console.print()
    sound = result.certificate.failed + result.certificate.uncertified == 0
    for i, line in enumerate(certificate_lines(result.certificate)):
        console.print(Text(line + ".", "green" if sound and i == 0 else ""))
    console.print()
    bad = result.failures
    if len(bad):
        table = _table("Points that fail", ("zone", "why", "points", "first", REMEDY), right=("points",))
        for _, r in bad.iterrows():
            table.add_row(r["zone"], Text(r["status"], "bold red"), str(r["points"]), r["first"], r[REMEDY])
        console.print(table)
        console.print()
    over = result.exceeded
    if len(over):
        headings = ("zone", "check", "clause", "points", "worst", "at point", REMEDY)
        table = _table("Checks that are exceeded", headings, right=("points", "worst"))
        for _, r in over.iterrows():
            use = Text(utilisation(float(r["worst"])), "bold red")
            table.add_row(r["zone"], r["check"], r["clause"], str(r["points"]), use, r["point"], r[REMEDY])
        console.print(table)
        console.print()
    if result.links is not None and len(result.links):
        linked = result.links[result.links["links [mm2/m2]"] > 0.0]
        avoided = len(result.links) - len(linked)
        columns = ("zone", "points with links", "most [mm2/m2]", "at point", "combination")
        table = _table("Links", columns, right=columns[1:3], shown=shown)
        for zone, of in linked.groupby("zone", sort=False):
            top = of.iloc[0]
            table.add_row(str(zone), str(len(of)), digits(top["links [mm2/m2]"]), top["point"], top["combination"])
        console.print(table)
        if avoided:
            console.print(Text(f"Bars raised to avoid links: {avoided} points.", "dim"))
        console.print()
    if result.punching is not None:
        _print_punching(result.punching, console, shown)
    if result.service is not None:
        _print_service(result.service, console)
    if result.prestress is not None:
        _print_tendons(result.prestress.tendons, console, shown)
    if result.meshes:
        _print_bars(result, console, shown)
    table = _table(
        "Most steel", ("zone", "bars", "required [mm2/m]", "at point", "combination"), ("required [mm2/m]",), shown
    )
    most = peaks(result.steel)
    for _, r in most.iterrows():
        table.add_row(r["zone"], r[LAYER], digits(r[REQUIRED]), r["point"], r["combination"])
    console.print(table)
    governing = [r for r in result.combinations.rows if r.name in set(most["combination"])]
    if any(r.ruled for r in governing):
        console.print()
        table = _table("Governing combinations", ("combination", "clause", "expression"), right=())
        for row in governing:
            table.add_row(row.name, row.clause, Text(row.expression))
        console.print(table)


def _print_punching(frame: pd.DataFrame, console: Console, shown: Shown) -> None:
    """The worst places that may punch."""
    columns = ("place", "where", "V [kN]", "v_Ed [MPa]", "utilisation", "at the face", "rows", "status", REMEDY)
    title = f"Punching, clause {frame['clause'].iloc[0]}: {len(frame)} places" + (
        ", the worst eight" if len(frame) > 8 else ""
    )
    table = _table(title, columns, right=columns[2:7], shown=shown)
    table.columns[0].no_wrap = True
    for _, r in frame.head(8).iterrows():
        values = [r[c] for c in ("place", "where", "V [kN]")]
        values += [digits(float(r["v_Ed [MPa]"]), 3)]
        values += [utilisation(float(r[c])) for c in ("utilisation", "utilisation at the face")]
        values += [int(r["rows of reinforcement"]) or "-", r["status"], r[REMEDY]]
        style = "red" if str(r["status"]).startswith("exceeded") else None
        table.add_row(*(Text(digits(v)) for v in values), style=style)
    console.print(table)
    console.print()


def print_checked(checked: Checked, console: Console) -> None:
    """Where to look, then the worst of each check."""
    shown = Shown(checked.came.job.output.units)
    console.print(Rule(Text(f"{checked.came.job.title}: service state", "bold"), align="left"))
    if checked.page is not None:
        console.print(f"page     {checked.page}", soft_wrap=True)
    console.print(f"tables   {checked.folder}", soft_wrap=True)
    console.print()
    service = shown.service(checked.service)
    if service is not None:
        _print_service(service, console)
    if checked.prestress is not None:
        _print_tendons(shown.frame(checked.prestress.tendons, rename=False), console, shown)


def _print_service(service: ServiceState, console: Console) -> None:
    """The worst of each check of the service state, and what was added for it."""
    columns = ("zone", "check", "clause", "worst", "utilisation", "exceeded", "at point", "by")
    table = _table("Service state", columns, right=columns[3:6])
    worst = worst_checks(service.checks)
    for _, r in worst[(worst["utilisation"] > 0.0) | (worst["not checked at"] > 0)].iterrows():
        style = "red" if r["status"] == "exceeded" else None
        demand, capacity = (digits(float(r[c]), 3) for c in ("demand", "capacity"))
        values = [r["zone"], r["check"], r["clause"], f"{demand} of {capacity} {r['unit']}"]
        values += [
            utilisation(float(r["utilisation"])),
            r["exceeded at"],
            r["point"],
            f"{r['combination']} {r['loading']}",
        ]
        table.add_row(*(Text(str(v)) for v in values), style=style)
    console.print(table)
    bad = service.checks[service.checks["status"].str.startswith("not checked")]
    lost = len(bad.drop_duplicates(["zone", "point"]))
    if lost:
        console.print(Text(f"{lost} points have no service state; the table says why.", "bold red"))
    for _, r in service.remedies.iterrows():
        wide = f"{r['zone']}, {r['face']}: {r['points']} points too wide with the bars of the ultimate design, "
        wide += f"{r['crack width [mm]']:.3g} mm of {r['allowed [mm]']:.3g} mm at {r['at point']}"
        would = f"there would do {r['steel that would do there']}; or the same steel {r['or the same steel']}"
        console.print(Text(f"{wide}: {would}.", "dim"))
    if service.steel is not None:
        for _, r in added_by_layer(service.steel).iterrows():
            told = f"{r['zone']}, {r[LAYER]}: up to {digits(r['added [mm2/m]'])} mm2/m added at {r['points']} points"
            console.print(Text(f"{told}, most at {r['point']}.", "dim"))
    console.print()


def _print_tendons(frame: pd.DataFrame, console: Console, shown: Shown) -> None:
    """The worst tendons."""
    columns = (
        "tendon", "concrete at the duct [MPa]", "at [m]", "combination", "increase [MPa]", "range [MPa]", "status"
    )  # fmt: skip
    table = _table("Tendons, the worst eight", columns, right=(*columns[1:3], *columns[4:6]), shown=shown)
    for _, r in frame.head(8).iterrows():
        style = None if r["status"] == "ok" else "red"
        values = (digits(float(r[c]), 3) if "[" in c else str(r[c]) for c in columns)
        table.add_row(*(Text(v) for v in values), style=style)
    console.print(table)
    console.print()


def _print_bars(result: RunResult, console: Console, shown: Shown) -> None:
    bars = pd.concat([m.bars for m in result.meshes], ignore_index=True)
    if (bars[EXTRA] == "none").all():
        bars = bars.drop(columns=EXTRA)
    columns = tuple(map(str, bars.columns))
    table = _table(
        "Bars", columns, right=tuple(c for c in columns if "[" in c or c in ("points short", "ratio")), shown=shown
    )
    for row in bars.sort_values("ratio", ascending=False, kind="stable").itertuples(index=False):
        style = None if str(row[-1]).startswith("ok") else "red"
        table.add_row(*(Text(cell(c, v)) for c, v in zip(columns, row, strict=True)), style=style)
    console.print(table)
    points = pd.concat([m.points for m in result.meshes], ignore_index=True)
    if len(points):
        console.print()
        columns = tuple(map(str, points.columns))
        numeric = ("ratio", "load factor", "utilisation")
        table = _table("The most used points by limit analysis of the layered section", columns, right=numeric)
        worst = points.sort_values("load factor", kind="stable").head(6)
        for row in worst.itertuples(index=False):
            cells = (Text(cell(c, v)) for c, v in zip(columns, row, strict=True))
            table.add_row(*cells, style=None if row[-1] == "ok" else "red")
        console.print(table)
    console.print()


def print_inspection(found: Inspected, console: Console) -> None:
    """Where to look, doubts, then zones and cases."""
    inspection = found.inspection
    console.print(Rule(Text(f"{inspection.came.job.title}: what came in", "bold"), align="left"))
    if found.page is not None:
        console.print(f"page     {found.page}", soft_wrap=True)
    console.print(f"tables   {found.folder}", soft_wrap=True)
    console.print()
    if inspection.doubts:
        for d in inspection.doubts:
            console.print(Text.assemble((d.where, "bold"), ": ", (d.what, "bold red")))
            console.print(Text(f"    {d.evidence}"))
            if d.usual:
                console.print(Text(f"    usually: {d.usual}", "dim"))
    else:
        console.print(Text("No doubts: axes, neighbours, slopes, supports and sizes agree.", "green"))
    zones = inspection.zones.set_index("zone").T.rename_axis("zone").reset_index()
    for title, frame in (("Zones", zones), ("Cases", inspection.cases)):
        console.print()
        columns = tuple(map(str, frame.columns))
        numeric = tuple(c for c in columns if "[kN]" in c or (title == "Zones" and c != "zone"))
        table = _table(title, columns, right=numeric)
        for row in frame.itertuples(index=False):
            table.add_row(*(Text(digits(v)) for v in row))
        console.print(table)
    console.print()
    table = _table("Tables", ("table", "how it is written"), right=())
    for row in inspection.tables.itertuples(index=False):
        table.add_row(*(Text(str(v)) for v in row))
    console.print(table)


def print_trial(trial: Trial, console: Console) -> None:
    """Steel and utilisations before and after a change."""
    console.print(Rule(Text(", ".join(f"{k} = {v}" for k, v in trial.changes.items()), "bold"), align="left"))
    if len(trial.failures):
        table = _table("Points that fail after it", ("zone", "why", "points", "first"), right=("points",))
        for _, r in trial.failures.iterrows():
            table.add_row(r["zone"], Text(r["status"], "bold red"), str(r["points"]), r["first"])
        console.print(table)
        console.print()
    for title, frame in (("Steel", trial.steel), ("Checks", trial.checks.drop(columns="clause"))):
        texts = ("zone", LAYER, "check", "worst at")
        columns = tuple(map(str, frame.columns))
        table = _table(title, columns, right=tuple(c for c in columns if c not in texts))
        for row in frame.itertuples(index=False):
            over = title == "Checks" and row[3] > 1.0
            cells = [cell(c, v) for c, v in zip(columns, row, strict=True)]
            if title == "Steel":
                cells[-1] = f"{row[-1]:+.1f}" if row[-1] == row[-1] else "new"
            table.add_row(*map(Text, cells), style="red" if over else None)
        console.print(table)
        console.print()
    console.print(Text(trial.note, "dim"))


def print_methods(compared: Compared, console: Console) -> None:
    """What each method comes to, and the points where a part of the forces asks for least of the whole."""
    console.print(Rule(Text(f"{compared.job.title}: three methods", "bold"), align="left"))
    if compared.picture is not None:
        console.print(f"picture  {compared.picture}", soft_wrap=True)
    console.print(f"tables   {compared.folder}", soft_wrap=True)
    whole = compared.points["sandwich [mm2/m]"]
    short = [(whole - compared.points[f"{m} [mm2/m]"]).nlargest(5).index for m in ("plate", "membrane")]
    worst = compared.points.loc[short[0].union(short[1])]
    for title, frame in (
        ("Zones", compared.summary),
        ("Where a part of the forces asks for least of the whole", worst),
    ):
        console.print()
        columns = tuple(map(str, frame.columns))
        table = _table(title, columns, right=tuple(c for c in columns if c not in ("zone", "point")))
        for row in frame.itertuples(index=False):
            table.add_row(*(Text(digits(v)) for v in row))
        console.print(table)
    console.print()
    console.print(
        Text(
            "Steel by strength of all bar layers of a point; plate leaves membrane forces out, membrane moments.", "dim"
        )
    )


def _table(title: str, headings: tuple[str, ...], right: tuple[str, ...], shown: Shown = SI) -> Table:
    gap = 2 if get_terminal_size().columns >= 100 else 1
    table = Table(
        title=title, title_justify="left", title_style="bold", box=None, pad_edge=False, padding=(0, gap, 0, 0)
    )
    for h in headings:
        side: Any = "right" if h in right else "left"
        whole = len(h) if h in WHOLE else None  # what a narrow terminal may not cut
        table.add_column(Text(shown.heading(h)), justify=side, header_style="dim", overflow="fold", min_width=whole)
    return table


def print_sheet(sheet: Sheet, title: str, console: Console) -> None:
    """A worked calculation, a step at a time: title, formula, given values, results."""
    console.print(Rule(Text(title, "bold"), align="left"))
    for text in _lines(sheet.answer, console.width):
        console.print(Text(text, "bold green"))
    heading = ""
    for current, step in sheet.steps:
        if current != heading:
            heading = current
            console.print()
            console.print(Text(heading.upper(), "bold cyan"))
        line = Text(step.title, "bold")
        if step.source:
            line.append(f"   [{step.source}]", "dim not bold")
        console.print(line)
        if step.formula:
            console.print(Text(f"    {step.formula}", "italic"))
        for text in _lines(step.given, console.width - 4):
            console.print(Text(f"    {text}", "dim"))
        for i, text in enumerate(_lines(step.results, console.width - 4)):
            console.print(Text(f"  {'=' if i == 0 else ' '} {text}", "green"))


def _lines(quantities: tuple[Quantity, ...], width: int) -> list[str]:
    """Quantities in lines that break between them and not inside one."""
    lines: list[str] = []
    for q in quantities:
        unit = f" {q.unit}" if q.unit and q.unit != "-" else ""
        text = f"{q.symbol} {digits(q.value)}{unit}"
        if lines and len(lines[-1]) + len(text) + 3 <= width:
            lines[-1] += f";  {text}"
        else:
            lines.append(text)
    return lines
