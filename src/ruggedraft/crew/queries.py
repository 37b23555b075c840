"""What screens read about people."""

from ruggedraft.core.errors import NotThere

from .models import Person


def everybody() -> list[Person]:
    """Everybody who has or had an account, by name."""
    return list(Person.objects.order_by("first_name", "last_name", "username"))


def person_with(person_id: int) -> Person:
    """Raises NotThere."""
    found = Person.objects.filter(pk=person_id).first()
    if found is None:
        raise NotThere("There is nobody with this number.")
    return found


def person_called(username: str) -> Person:
    """Raises NotThere."""
    found = Person.objects.filter(username=username).first()
    if found is None:
        raise NotThere(f"There is nobody called {username} here.")
    return found


def somebody_is_there() -> bool:
    """Whether anybody ever had an account: then the ledger was begun."""
    return Person.objects.exists()
