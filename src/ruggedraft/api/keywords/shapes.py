"""What people say of files, for whoever looks for them later."""

from pydantic import BaseModel, Field

from ruggedraft.keywords.acts.say_of_files import Says
from ruggedraft.keywords.queries import SaidOf


class FileNamedIn(BaseModel):
    """A file by its roll's tag and its path."""

    tag: str
    path: str


class SayIn(BaseModel):
    """add, remove: keywords. caption, rights: empty: none any more; null: as they are"""

    files: list[FileNamedIn] = Field(max_length=1000)
    add: list[str] = []
    remove: list[str] = []
    caption: str | None = None
    rights: str | None = None

    def says(self) -> Says:
        return Says(self.add, self.remove, self.caption, self.rights)


class SaidOfOut(BaseModel):
    """beside: names of stores where it lies beside the copy, as XMP. waiting: of those where it does not yet

    trouble: why it does not somewhere
    """

    keywords: list[str]
    caption: str
    rights: str
    beside: list[str]
    waiting: list[str]
    trouble: list[str]

    @classmethod
    def of(cls, said: SaidOf) -> "SaidOfOut":
        return cls(
            keywords=list(said.tags.keywords), caption=said.tags.notes, rights=said.tags.rights,
            beside=list(said.beside), waiting=list(said.waiting), trouble=list(said.trouble),
        )  # fmt: skip


class FilesSaidOut(BaseModel):
    """files: of how many something changed"""

    files: int


class ProposedOut(BaseModel):
    """Keywords that were used before, those used most first."""

    keywords: list[str]
