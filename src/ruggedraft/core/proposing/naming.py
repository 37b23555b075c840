from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import date
from typing import Any

from ..naming import NamingPlan


@dataclass(frozen=True)
class Naming:
    """A plan's folders and names with the values of one roll.

    mend: names that a store cannot hold are changed. shots: a rig's shot numbers by clips' main paths
    """

    plan: NamingPlan
    values: dict[str, str]
    mend: bool
    shots: dict[str, int] = field(default_factory=dict)

    def of_roll(self, tag: str, day: date) -> "Naming":
        """With the values that a roll gives: its tag and its shoot day."""
        dated = {"date": day.isoformat(), "year": f"{day:%Y}", "month": f"{day:%m}", "day": f"{day:%d}", "roll": tag}
        return replace(self, values=self.values | dated)

    def as_data(self) -> dict[str, Any]:
        """As JSON holds it."""
        plan = self.plan
        return {"folder": plan.folder, "names": plan.names, "start": plan.start, "mend": self.mend,
                "values": self.values, "shots": self.shots}  # fmt: skip

    @classmethod
    def from_data(cls, data: Mapping[str, Any]) -> "Naming":
        """The inverse of `as_data`."""
        plan = NamingPlan(data["folder"], data["names"], data["start"])
        return cls(plan, dict(data["values"]), data["mend"], dict(data.get("shots", {})))
