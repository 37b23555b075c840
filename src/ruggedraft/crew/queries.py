"""What screens read about people."""

from .models import Person


def everybody() -> list[Person]:
    """Everybody who has or had an account, by name."""
    return list(Person.objects.order_by("first_name", "last_name", "username"))
