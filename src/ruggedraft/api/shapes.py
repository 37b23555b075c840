"""Shapes that more than one room of the interface shows."""

from pydantic import BaseModel

from ruggedraft.productions.models import Camera


class Problem(BaseModel):
    """RFC 9457. `title` is a sentence for the person at the screen."""

    type: str
    status: int
    title: str


class Done(BaseModel):
    """The act was done; what changed arrives through the live stream."""

    done: bool = True


class CameraOut(BaseModel):
    letter: str
    name: str
    kind: str

    @staticmethod
    def of(camera: Camera) -> "CameraOut":
        return CameraOut(letter=camera.letter, name=camera.name, kind=camera.kind)


REFUSED = {403: Problem, 404: Problem, 409: Problem}
"""How an act says no."""
