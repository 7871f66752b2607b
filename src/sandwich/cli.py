"""Command line: parses, calls one library function, prints. Results to stdout, progress and warnings to stderr."""

from __future__ import annotations

import os
import signal
import sys
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from functools import partial
from importlib import import_module
from pathlib import Path
from typing import Annotated, Any, Final

import typer

from sandwich._version import __version__
from sandwich.core.errors import InputError, SandwichError

app = typer.Typer(
    help="Reinforcement of concrete walls, plates and shells from finite-element stress resultants.",
    no_args_is_help=True,
    add_completion=False,
    pretty_exceptions_enable=False,
    rich_markup_mode=None,  # help in plain text starts in half the time
)
JobFile = Annotated[Path, typer.Argument(help="Job file (TOML).", show_default=False)]

WIDE: Final = 160  # columns of a file


def _version(wanted: bool) -> None:
    if wanted:
        typer.echo(__version__)
        raise typer.Exit


@app.callback()
def _main(
    version: Annotated[
        bool, typer.Option("--version", callback=_version, is_eager=True, help="Print the version and stop.")
    ] = False,
) -> None:
    pass


@app.command()
def new(
    folder: Annotated[Path, typer.Argument(help="Folder to make.", show_default=False)],
    files: Annotated[
        list[Path] | None,
        typer.Argument(help="With --from: tables, workbooks, a mesh file, or a folder of them.", show_default=False),
    ] = None,
    drafted: Annotated[bool, typer.Option("--from", help="Guess names and units from the files that follow.")] = False,
) -> None:
    """Write a commented job file to start from, or one drafted from an export: new FOLDER --from FILE..."""
    from sandwich.commands.start import new_job

    if drafted != bool(files):
        raise typer.BadParameter("name files after --from" if drafted else "write --from before the files")
    job = new_job(folder, files or ())
    then = f"look at its guesses, then: sandwich inspect {job}" if drafted else f"edit it, then: sandwich run {job}"
    typer.echo(f"wrote {job}; {then}")


@app.command()
def demo(
    folder: Annotated[Path, typer.Argument(help="Folder to make.")] = Path("fernhill"),
) -> None:
    """Copy the demo jobs, the Fernhill Observatory and its stair and lift core, and run them."""
    from sandwich.commands.start import CORE, copy_demo
    from sandwich.core.copies import beside, can_fork

    job = copy_demo(folder)
    core = job.parent / CORE
    for module in ("commands.run", "report.terminal", "drawing.maps"):  # what both need
        import_module(f"sandwich.{module}")
    if not can_fork():
        _run(job)
        typer.echo()
        _run(core)
        return
    os.environ["COLUMNS"] = str(_console().width)  # a file has none of its own
    with beside(partial(main, ["run", str(core)])) as words:  # they share nothing
        _run(job)
    typer.echo(f"\n{words.out}", nl=False)
    typer.echo(words.err, nl=False, err=True)
    if words.code:
        raise typer.Exit(words.code)


@app.command()
def inspect(
    job: JobFile,
    pictures: Annotated[bool, typer.Option(help="Make pictures and the page.")] = True,
) -> None:
    """Look at the input before any design: counts, ranges, axes, warnings."""
    from sandwich.commands.inspect import inspect_job
    from sandwich.report.terminal import print_head, print_outcomes

    with _progress(draws=pictures) as show:
        found = inspect_job(job, progress=show, pictures=pictures)
    lines = [*_pages(found.page, "page"), ("tables", found.folder)]
    print_head(f"{found.inspection.project.job.title}: the input", lines, _console())
    print_outcomes([found.outcome], _console())


@app.command()
def run(
    job: JobFile,
    pictures: Annotated[bool, typer.Option(help="Make maps and the report.")] = True,
) -> None:
    """Design a job: tables, maps and a report."""
    _run(job, pictures)


@app.command()
def methods(
    job: JobFile,
    zone: Annotated[str | None, typer.Option(help="One zone; all if left out.")] = None,
    pictures: Annotated[bool, typer.Option(help="Draw the figure.")] = True,
) -> None:
    """Show plate, membrane and three layers side by side for the points of the last run."""
    from sandwich.commands.methods import compare_methods
    from sandwich.report.terminal import print_blocks, print_head

    found = compare_methods(job, zone, pictures=pictures)
    lines = [*_pages(found.picture, "picture"), ("tables", found.folder)]
    print_head(f"{found.job.title}: three methods", lines, _console())
    print_blocks(found.blocks, _console())


@app.command()
def check(
    job: JobFile,
    only: Annotated[str | None, typer.Option(help="cracks, stresses, minimum or tendons; all if left out.")] = None,
    pictures: Annotated[bool, typer.Option(help="Make maps and the page.")] = True,
) -> None:
    """Check the service state of a job that was run, by itself: cracks, stresses, minimum steel, tendons."""
    from sandwich.commands.check import check_job
    from sandwich.core.shown import Shown
    from sandwich.report.terminal import print_head, print_outcomes

    with _progress(draws=pictures) as show:
        found = check_job(job, only, progress=show, pictures=pictures)
    of = found.project.job
    lines = [*_pages(found.page, "page"), ("tables", found.folder)]
    print_head(f"{of.title}: service state", lines, _console())
    print_outcomes(found.outcomes, _console(), Shown(of.output.units))


@app.command(name="try")
def try_(
    job: JobFile,
    changes: Annotated[list[str], typer.Option("--set", help="KEY=VALUE, such as zones.floor.thickness=300.")],
    picture: Annotated[
        Path | None, typer.Option(help="With walls: draw the curves of the most bent part here (PNG).", dir_okay=False)
    ] = None,
) -> None:
    """Try a changed thickness, cover, concrete or bar on the results of the last run."""
    from sandwich.commands.trial import try_job
    from sandwich.core.shown import Shown
    from sandwich.job.keys import key_and_value
    from sandwich.report.terminal import print_blocks, print_head

    wanted: dict[str, str] = {}
    for change in changes:
        pair = key_and_value(change)
        if pair is None:
            raise typer.BadParameter(f"'{change}' is not KEY=VALUE")
        wanted.setdefault(*pair)
    if len(wanted) < len(changes):
        raise typer.BadParameter("a key stands twice; give each one value")
    trial = try_job(job, wanted)
    lines = []
    if picture is not None:
        if trial.walls is None:
            raise typer.BadParameter("--picture is for changes of walls; take it out")
        lines.append(("picture", trial.walls.draw(picture)))
    print_head(", ".join(f"{k} = {v}" for k, v in trial.changes.items()), lines, _console())
    print_blocks(trial.blocks, _console(), Shown(trial.units))


@app.command()
def explain(
    job: JobFile,
    point: Annotated[
        str | None, typer.Option(help="Point as in the tables: ZONE/POINT, or POINT where it is unique.")
    ] = None,
    punching: Annotated[
        str | None, typer.Option(help="Instead: a loaded area of the table of punching, such as 'columns 1'.")
    ] = None,
    wall: Annotated[
        str | None, typer.Option(help="Instead: a part of a wall, such as 'ground A P1', or 'ground section 1 top'.")
    ] = None,
    combination: Annotated[str | None, typer.Option(help="A combination; the governing one if left out.")] = None,
    crack: Annotated[bool, typer.Option("--crack", help="The crack width of the point in place of its bars.")] = False,
    face: Annotated[str | None, typer.Option(help="With --crack: the face; the worse one if left out.")] = None,
    html: Annotated[Path | None, typer.Option(help="Write a page here as well.", dir_okay=False)] = None,
) -> None:
    """Show the worked calculation of a point, its crack, a loaded area or a part of a wall, of a job that was run."""
    from sandwich.commands.explain import explain_loaded_area, explain_point
    from sandwich.report.terminal import print_sheet

    if sum(v is not None for v in (point, punching, wall)) != 1:
        remedy = (
            "name a point with --point, a loaded area of the table of punching with --punching, or a part with --wall"
        )
        raise typer.BadParameter(remedy)
    if wall is not None and combination is not None:
        raise typer.BadParameter("--wall shows the governing combination of each check; take --combination out")
    if (crack and point is None) or (face is not None and not crack):
        raise typer.BadParameter("--crack goes with --point, and --face with --crack")
    section = strength = None
    if crack:
        from sandwich.commands.explain_crack import explain_crack

        explained = explain_crack(job, str(point), face, combination)
        sheet, section, title = explained.sheet, explained.section, f"Crack at point {point}"
    elif wall is not None:
        from sandwich.commands.explain_wall import explain_wall

        of_part = explain_wall(job, wall)
        sheet, strength, title = of_part.sheet, of_part.strength, f"Wall part {wall}"
    elif punching is not None:
        sheet, title = explain_loaded_area(job, punching, combination), f"Punching of {punching}"
    else:
        sheet, title = explain_point(job, str(point), combination), f"Point {point}"
    title += f", {combination}" if combination else ""
    if html is not None:
        from sandwich.report.page import write_worked

        write_worked(sheet, title, html, section, strength)
    print_sheet(sheet, title, _console())


@app.command()
def schedule(
    job: JobFile,
    to: Annotated[
        list[Path] | None, typer.Option(help="Write it here as well: .xlsx or .json; repeat for both.", dir_okay=False)
    ] = None,
) -> None:
    """Show the bar schedule of a job that was run: mass, diameters, marks, lengths and bending shapes."""
    from sandwich.commands.schedule import bar_schedule
    from sandwich.core.shown import Shown
    from sandwich.report.terminal import print_blocks, print_head

    found = bar_schedule(job)
    lines = [("written", found.write(path)) for path in to or ()]
    print_head(f"{found.project.job.title}: bars", lines, _console())
    print_blocks(found.blocks, _console(), Shown(found.project.job.output.units))


@app.command("map")
def draw(
    job: JobFile,
    of: Annotated[str, typer.Option(help="A resultant (mx), steel of a layer (required), or a check of the tables.")],
    zone: Annotated[str | None, typer.Option(help="The zone, where the job has several.")] = None,
    layer: Annotated[str | None, typer.Option(help="Bar layer of steel, such as 'top x'.")] = None,
    combination: Annotated[
        str | None, typer.Option(help="A combination; of resultants also 'largest' or 'smallest' of all.")
    ] = None,
    case: Annotated[str | None, typer.Option(help="A case of a resultant.")] = None,
    *,
    raw: Annotated[bool, typer.Option("--raw", help="Resultants before peaks are averaged.")] = False,
    numbers: Annotated[bool, typer.Option("--numbers", help="Write the largest value of each element in it.")] = False,
    to: Annotated[Path, typer.Option(help="Picture: .png, .svg or .pdf.", dir_okay=False)] = Path("map.png"),
) -> None:
    """Draw one quantity of a zone of a job that was run, for a case, a combination or all of them."""
    from sandwich.commands.mapping import map_job

    found = map_job(job, of, zone=zone, layer=layer, combination=combination, case=case, raw=raw)
    typer.echo(f"wrote {found.draw(to, numbers=numbers)}: {found.zone}, {found.what} [{found.unit}]")


def _run(job: Path, pictures: bool = True) -> None:
    from sandwich.commands.run import run_job
    from sandwich.core.shown import Shown
    from sandwich.report.terminal import print_head, print_outcomes

    with _progress(draws=pictures) as show:
        result = run_job(job, progress=show, pictures=pictures)
    console, shown = _console(), Shown(result.job.output.units)
    lines: list[tuple[str, object]] = [*_pages(result.report, "report"), ("tables", result.folder)]
    if result.report is not None and (result.folder / "maps").is_dir():
        lines.insert(1, ("maps", result.folder / "maps"))
    if result.reused:
        new = [z.name for z in result.zones if z.name not in result.reused]
        made = f"; designed again: {', '.join(new)}" if new else "; nothing else has changed"
        lines.append(("reused", ", ".join(result.reused) + made))
    warnings = result.warnings
    if warnings:
        first = "" if warnings[0].grave else f", the first: {shown.text(warnings[0])}"
        lines.append(("warnings", f"{len(warnings)}{first}"))
        lines += [("", shown.text(w)) for w in warnings if w.grave]
    print_head(result.job.title, lines, console)
    print_outcomes(list(result.project.outcomes.values()), console, shown)


def _pages(page: Path | None, name: str) -> list[tuple[str, object]]:
    return [] if page is None else [(name, page)]


@contextmanager
def _progress(*, draws: bool) -> Iterator[Callable[[str, int, int], None]]:
    """A progress bar and warnings on stderr; only warnings where nobody watches."""
    import logging

    from sandwich.drawing.workers import stand_by

    if draws:
        stand_by()

    from rich.logging import RichHandler
    from rich.progress import BarColumn, Progress, TextColumn, TimeElapsedColumn

    err = _console(stderr=True)
    handler = RichHandler(console=err, show_time=False, show_path=False, level=logging.WARNING)
    logging.getLogger("sandwich").addHandler(handler)
    columns = (TextColumn("{task.description}"), BarColumn(), TextColumn("{task.completed}/{task.total}"))
    try:
        if not err.is_terminal:
            yield lambda *_: None
            return
        with Progress(*columns, TimeElapsedColumn(), console=err, transient=True) as bar:
            tasks = {}

            def show(stage: str, done: int, whole: int) -> None:
                if stage not in tasks:
                    tasks[stage] = bar.add_task(stage, total=whole)
                bar.update(tasks[stage], completed=done, total=whole)

            yield show
    finally:
        logging.getLogger("sandwich").removeHandler(handler)


def _console(*, stderr: bool = False) -> Any:
    """Where tables go: names are printed as they are, whatever signs they hold."""
    from rich.console import Console

    # a file or a pipe has no width of its own: tables are not broken for it
    wide = WIDE if not (stderr or sys.stdout.isatty() or "COLUMNS" in os.environ) else None
    return Console(stderr=stderr, width=wide, markup=False, emoji=False, highlight=False)


def main(arguments: list[str] | None = None) -> None:
    """Run the command line, by its own arguments or those that are given.

    Faults of the input end with code 2 and one message, an interruption with 130, a fault of the program with 70 and a
    file that tells where.
    """
    for stream in (sys.stdout, sys.stderr):
        if hasattr(stream, "reconfigure"):
            stream.reconfigure(errors="replace")  # a terminal without a sign shows another
    if threading.current_thread() is threading.main_thread():
        signal.signal(signal.SIGINT, _interrupted)
    try:
        app(arguments)
    except InputError as error:
        many = len(error.faults) > 1
        head = f"{len(error.faults)} errors:\n" if many else ""
        lines = [f"  {f}" if many else str(f) for f in error.faults]
        _stop(head + "\n".join(lines))
    except SandwichError as error:
        _stop(str(error))
    except BrokenPipeError:
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())  # who read it has gone
        sys.exit(0)
    except OSError as error:
        what = f"{error.filename}: " if error.filename else ""
        _stop(f"{what}cannot be read or written ({error.strerror or error}); look at the place and the disk")
    except Exception as error:  # noqa: BLE001  # the last guard: a short word in place of a traceback
        _fault(error)


def _interrupted(*_: object) -> None:
    print("stopped; a next run clears what is left", file=sys.stderr)
    raise SystemExit(130)


def _fault(error: Exception) -> None:
    import tempfile
    import traceback

    with tempfile.NamedTemporaryFile("w", prefix="sandwich-", suffix=".txt", delete=False, encoding="utf-8") as file:
        file.write("".join(traceback.format_exception(error)))
    first = str(error).splitlines()[0] if str(error) else ""
    print(f"a fault of the program: {type(error).__name__} {first[:200]}".rstrip(), file=sys.stderr)
    print(f"details are in {file.name}; the results may not be whole", file=sys.stderr)
    sys.exit(70)


def _stop(message: str) -> None:
    clean = "".join(c if c.isprintable() or c == "\n" else "\N{REPLACEMENT CHARACTER}" for c in message)
    print(clean, file=sys.stderr)
    sys.exit(2)
