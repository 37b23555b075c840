"""Hours and rates as people give them. One place refuses what makes no sense."""

from dataclasses import dataclass

from ruggedraft.core.errors import ActRefused
from ruggedraft.core.preflight import gigabytes
from ruggedraft.core.transfer.capped import LEAST_BYTES_PER_S
from ruggedraft.core.upkeep import Hours


@dataclass(frozen=True)
class Pacing:
    """rate: bytes a second; None: as fast as it goes"""

    hours: Hours
    rate: int | None = None

    def require_sense(self) -> None:
        """Raises ActRefused."""
        if self.rate is not None and self.rate < LEAST_BYTES_PER_S:
            raise ActRefused(f"Slower than {gigabytes(LEAST_BYTES_PER_S)} a second no copy would ever be done.")

    @property
    def words(self) -> str:
        """Such as ", 22:00 to 06:00, at most 20.0 MB a second"; empty where nothing holds it."""
        said = [self.hours.words, f"at most {gigabytes(self.rate)} a second" if self.rate else ""]
        return "".join(f", {one}" for one in said if one)


def hours_of(begins: int, ends: int) -> Hours:
    """Raises ActRefused."""
    try:
        return Hours(begins, ends)
    except ValueError as error:
        raise ActRefused(f"It cannot be done at these hours: {error}.") from error
