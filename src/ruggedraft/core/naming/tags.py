"""The tag of a roll."""

from ..errors import PlanError


def roll_tag(prefix: str, number: int, digits: int) -> str:
    """A roll's tag. The number keeps at least `digits` digits so that tags sort; it grows past them.

    A prefix that ends in a digit is set apart, so that camera R1 and camera R11 cannot be confused.

    >>> roll_tag("A", 12, 3), roll_tag("A", 1000, 3), roll_tag("R1", 1, 3)
    ('A012', 'A1000', 'R1-001')
    """
    if number < 1 or digits < 2:
        raise PlanError("Roll numbers start at 1 and have at least two digits.")
    gap = "-" if prefix[-1:].isdigit() else ""
    return f"{prefix}{gap}{number:0{digits}d}"
