"""Reference from the sources: `python -m tools.reference` writes docs/clauses.md and the schema of the bar schedule.

With a folder it also writes API pages there, which need pdoc of the extra `dev`.
"""

import importlib
import inspect
import json
import pkgutil
import sys
from pathlib import Path

import sandwich
from sandwich import standards
from sandwich.tables.schedule_files import BarScheduleFile

PAGE = Path(__file__).parent.parent / "docs" / "clauses.md"
SCHEMA = PAGE.with_name("bar-schedule.schema.json")
HEAD = """# Clauses

Every clause is one function; this list is made from them by `python -m tools.reference`. Symbols and units are in the
docstring of the function, worked values in `sandwich explain`.
"""


def clauses() -> list[tuple[str, str, str, str]]:
    """Source, what it gives, formula and function of every clause, in the order of the files."""
    found = []
    for info in pkgutil.walk_packages(standards.__path__, f"{standards.__name__}."):
        module = importlib.import_module(info.name)
        own = [f for f in vars(module).values() if getattr(f, "source", None) and f.__module__ == info.name]
        for f in own:
            what = (inspect.getdoc(f) or "").split("\n", 1)[0].rstrip(".")
            name = f"{info.name.removeprefix('sandwich.standards.')}.{f.__name__}"
            found.append((f.source, what, f.formula, name))
    return found


def page() -> str:
    """The page as Markdown."""
    rows = [HEAD, "| clause | what | formula | function |", "|---|---|---|---|"]
    for source, what, formula, name in clauses():
        shown = formula.replace("|", "\\|").replace("*", "\\*").replace("<", "&lt;")
        rows.append(f"| {source} | {what} | {shown} | `{name}` |")
    return "\n".join(rows) + "\n"


def schema() -> str:
    """Schema of the bar schedule as JSON."""
    return json.dumps(BarScheduleFile.model_json_schema(), indent=1) + "\n"


def pages(folder: Path) -> None:
    """The public functions and classes as HTML."""
    import pdoc  # noqa: PLC0415  # an extra

    for name in sandwich.__all__:  # they are imported on first use, which pdoc does not wait for
        vars(sandwich)[name] = getattr(sandwich, name)
    pdoc.render.configure(docformat="numpy", show_source=False)
    pdoc.pdoc("sandwich", output_directory=folder)


if __name__ == "__main__":
    PAGE.write_text(page(), encoding="utf-8")
    SCHEMA.write_text(schema(), encoding="utf-8")
    if sys.argv[1:]:
        pages(Path(sys.argv[1]))
