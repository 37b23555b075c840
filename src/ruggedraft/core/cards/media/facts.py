"""Media facts: what a header said, as plain data."""

from datetime import datetime
from typing import Any, NamedTuple

from .kinds import MediaKind


class MediaFacts(NamedTuple):
    """What one file says of itself; empty or None where it says nothing.

    body, body_serial: the camera or recorder that wrote it. lens: as the camera calls it
    clock: when recording began. Naive: the body's own wall clock. Aware: the file names the zone.
    duration_s: seconds. rate: frames per second as a fraction, "25/1". timecode: "HH:MM:SS:FF" (";" for drop frame)
    sample_time: sound, samples since midnight at the start (EBU Tech 3285). rotation: degrees clockwise to show it.
    preview: offset and length in bytes of an embedded JPEG, or of a first frame that is one
    note: why the header could not be read, wholly or at all
    """

    kind: MediaKind
    body: str = ""
    body_serial: str = ""
    clock: datetime | None = None
    duration_s: float | None = None
    width: int = 0
    height: int = 0
    rotation: int = 0
    rate: str = ""
    codec: str = ""
    timecode: str = ""
    channels: int = 0
    sample_rate: int = 0
    sample_time: int | None = None
    preview: tuple[int, int] | None = None
    note: str = ""
    lens: str = ""

    @property
    def gear(self) -> str:
        """Camera and lens in small letters, as people look for them; empty where neither is known.

        >>> MediaFacts(MediaKind.STILL, body="Tern", lens="Fine 50mm f/1.4").gear
        'tern fine 50mm f/1.4'
        """
        return f"{self.body} {self.lens}".strip().lower()

    def as_data(self) -> dict[str, Any]:
        """As JSON holds it; only what is known."""
        data = {name: value for name, value in self._asdict().items() if value != self._field_defaults.get(name)}
        data["kind"] = str(self.kind)
        if self.clock:
            data["clock"] = self.clock.isoformat()
        return data

    @staticmethod
    def from_data(data: dict[str, Any]) -> "MediaFacts":
        """The inverse of `as_data`."""
        words = {**data, "kind": _KINDS[data["kind"]]}
        if "clock" in words:
            words["clock"] = datetime.fromisoformat(words["clock"])
        if "preview" in words:
            words["preview"] = (words["preview"][0], words["preview"][1])
        return MediaFacts(**words)


_KINDS = {str(kind): kind for kind in MediaKind}
