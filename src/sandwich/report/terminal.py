"""What stages left, and worked calculations, in a terminal, drawn with rich."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, Final

from rich.console import Console
from rich.rule import Rule
from rich.table import Table as RichTable
from rich.text import Text as RichText

from sandwich.core.numbers import cell, is_number
from sandwich.core.shown import SI, Shown
from sandwich.core.trace import Quantity, Sheet
from sandwich.project.outcome import Outcome, Table, Text

WHOLE: Final = ("utilisation", "required / provided", "status", "exceeded", "load factor")
TONES: Final = {"plain": "", "good": "green", "bad": "bold red", "quiet": "dim"}


def print_head(title: str, lines: Iterable[tuple[str, object]], console: Console) -> None:
    """A title, then where to look, then an empty line."""
    console.print(Rule(RichText(title, "bold"), align="left"))
    for what, value in lines:
        console.print(f"{what:<8} {value}", soft_wrap=True)
    console.print()


def print_outcomes(outcomes: list[Outcome[Any]], console: Console, shown: Shown = SI) -> None:
    """The verdict and the summary of some stages, by rank."""
    verdict = [t for o in outcomes for t in o.verdict]
    for text in verdict:
        console.print(RichText(shown.text(text.text), TONES[text.tone]))
    if verdict:
        console.print()
    blocks = [b for o in outcomes for b in o.summary]
    print_blocks(sorted(blocks, key=lambda b: b.rank), console, shown)


def print_blocks(blocks: Iterable[Text | Table], console: Console, shown: Shown = SI) -> None:
    """Sentences and tables under each other, an empty line after each table."""
    last_was_text = False
    for block in blocks:
        if isinstance(block, Text):
            console.print(RichText(shown.text(block.text), TONES[block.tone]))
            last_was_text = True
            continue
        if last_was_text:
            console.print()
        last_was_text = False
        console.print(_table(block, shown, console.width))
        if block.note:
            console.print(RichText(shown.text(block.note), "dim"))
        console.print()


def _table(of: Table, shown: Shown, width: int) -> RichTable:
    frame = of.shown(shown)
    gap = 2 if width >= 100 else 1
    table = RichTable(
        title=of.title or None, title_justify="left", title_style="bold", box=None, pad_edge=False,
        padding=(0, gap, 0, 0),
    )  # fmt: skip
    columns = list(map(str, frame.columns))
    texts = [[cell(c, v) for v in frame[c]] for c in columns]
    for h, whole in zip(columns, _least(columns, texts, width - gap * len(columns)), strict=True):
        side: Any = "right" if is_number(frame[h]) else "left"
        table.add_column(RichText(h), justify=side, header_style="dim", overflow="fold", min_width=whole)
    for i, row in enumerate(zip(*texts, strict=True)):
        table.add_row(*map(RichText, row), style="red" if of.row_is_bad(i) else None)
    return table


def _least(columns: list[str], texts: list[list[str]], width: int) -> list[int | None]:
    """Widths columns may not go below: no word is cut, in a narrow terminal no heading that is read first, or any."""
    words = [
        max((len(w) for text in (h, *cells) for w in text.split()), default=0)
        for h, cells in zip(columns, texts, strict=True)
    ]
    heads = [len(h) if h in WHOLE else 1 for h in columns]
    for least in (words, heads):
        if sum(least) <= width:
            return list(least)
    return [None] * len(columns)


def print_sheet(sheet: Sheet, title: str, console: Console) -> None:
    """A worked calculation, a step at a time: title, formula, given values, results."""
    console.print(Rule(RichText(title, "bold"), align="left"))
    for text in _lines(sheet.answer, console.width):
        console.print(RichText(text, "bold green"))
    heading = ""
    for current, step in sheet.steps:
        if current != heading:
            heading = current
            console.print()
            console.print(RichText(heading.upper(), "bold cyan"))
        line = RichText(step.title, "bold")
        if step.source:
            line.append(f"   [{step.source}]", "dim not bold")
        console.print(line)
        if step.formula:
            console.print(RichText(f"    {step.formula}", "italic"))
        for text in _lines(step.given, console.width - 4):
            console.print(RichText(f"    {text}", "dim"))
        for i, text in enumerate(_lines(step.results, console.width - 4)):
            console.print(RichText(f"  {'=' if i == 0 else ' '} {text}", "green"))


def _lines(quantities: tuple[Quantity, ...], width: int) -> list[str]:
    """Quantities in lines that break between them and not inside one."""
    lines: list[str] = []
    for q in quantities:
        unit = f" {q.unit}" if q.unit and q.unit != "-" else ""
        text = f"{q.symbol} {q.text}{unit}"
        if lines and len(lines[-1]) + len(text) + 3 <= width:
            lines[-1] += f";  {text}"
        else:
            lines.append(text)
    return lines
