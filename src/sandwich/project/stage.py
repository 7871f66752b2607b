"""The form of a stage.

A stage takes a project and leaves an outcome; the executor, the terminal and the report know nothing else of it.
"""

from __future__ import annotations

from typing import Generic, TypeVar

from sandwich.core.errors import Faults
from sandwich.core.progress import Progress
from sandwich.project.outcome import Outcome
from sandwich.project.project import Project

T = TypeVar("T")


class Stage(Generic[T]):
    """One step of a job; it leaves an outcome whose `left` is of type T.

    Attributes
    ----------
    name : str
        Its name.
    needs : tuple of str
        Stages that run before it, where the job asks for them.
    tables : tuple of str
        Tables it may leave.
    stores : tuple of str
        Files that it keeps in the store for later runs, without their ending.
    """

    name: str = ""
    needs: tuple[str, ...] = ()
    tables: tuple[str, ...] = ()
    stores: tuple[str, ...] = ()

    def asked(self, project: Project) -> bool:  # noqa: ARG002
        """Whether the job asks for it."""
        return True

    def check(self, project: Project, faults: Faults) -> None:
        """Note what keeps it from running, before any stage runs and anything is written."""

    def key(self, project: Project) -> str:
        """Digest of all that its tables are made from: while it stays, they are not written again."""
        return project.made_from

    def run(self, project: Project, progress: Progress) -> Outcome[T]:
        """Do its work."""
        raise NotImplementedError
