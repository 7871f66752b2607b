"""Keys of the job file as text: parts between dots, names with a dot or a sign in quotes, as in the file."""

from __future__ import annotations

import re
from typing import Final

_PART: Final = re.compile(r'\s*(?:"([^"]*)"|([^".=]*))\s*(\.|$)')
_CHANGE: Final = re.compile(r'((?:"[^"]*"|[^"=])*)=(.*)', re.DOTALL)


def key_parts(key: str) -> list[str]:
    """Parts of a key.

    Examples
    --------
    >>> key_parts('zones."level 1.5".thickness')
    ['zones', 'level 1.5', 'thickness']
    """
    parts, at = [], 0
    while found := _PART.match(key, at):
        parts.append(found[1] if found[1] is not None else found[2].strip())
        at = found.end()
        if not found[3]:
            return parts
    return key.split(".")


def key_and_value(text: str) -> tuple[str, str] | None:
    """Both sides of KEY=VALUE, None without a sign outside quotes.

    Examples
    --------
    >>> key_and_value('zones."a=b".rule = { diameters = [12] }')
    ('zones."a=b".rule', '{ diameters = [12] }')
    """
    found = _CHANGE.fullmatch(text)
    return None if found is None else (found[1].strip(), found[2].strip())


def quoted(name: str) -> str:
    """A name as a part of a key: in quotes where it has to be."""
    return f'"{name}"' if re.search(r"[.=\s]", name) else name
