"""Who may do what: every operation of the API's own description, in every role."""

from pathlib import Path
from unittest.mock import patch

from django.conf import settings
from django.db import transaction

from ruggedraft.core.errors import ActRefused
from ruggedraft.crew.models import Role
from ruggedraft.crew.permissions import MAY, May

from .operations import ACTS, STATE, EveryOperation


class Roles(EveryOperation):
    def test_every_operation_is_in_the_table(self):
        changing = {what for what in self.operations if not what.startswith("GET ")}
        self.assertEqual(changing, set(ACTS))

    def test_each_operation_is_refused_to_exactly_the_roles_that_may_not(self):
        """Whatever else speaks against it: an act first asks who wants it."""
        with patch("ruggedraft.stores.acts.ask_host_key.host_key_of", side_effect=ActRefused("nobody is there")):
            for what in sorted(self.operations):
                for role, person in self.people.items():
                    self._same_client(person)  # signed in before what is rolled back
                    with self.subTest(what, role=role):
                        with transaction.atomic():
                            answer = self.ask(what, person)
                            transaction.set_rollback(True)
                        if what == "POST screens":  # whoever makes one is signed out by it
                            self.clients.clear()
                        self.assertNotIn(answer.status_code, (401, 422), answer.content[:200])
                        self.assertEqual(answer.status_code != 403, self._may(what, role), answer.content[:200])

    def _may(self, what: str, role: str) -> bool:
        place = what.split(" ", 1)[1].partition("/")[0]
        sees = May.SEE_STATE if place in STATE else May.SEE_WORK
        return {sees, ACTS.get(what) or sees} <= MAY[role]

    def test_what_a_role_may_do_is_said_as_it_is(self):
        """`docs/roles.md` is the same table, for people."""
        said = (Path(settings.ROOT) / "docs" / "roles.md").read_text()
        rows = [line.strip("| ").split("|") for line in said.splitlines() if line.startswith("| ")]
        head, *cells = [[cell.strip() for cell in row] for row in rows]
        self.assertEqual(head[1:], [Role(role).label for role in MAY])
        told = {row[0]: [cell == "yes" for cell in row[1:]] for row in cells if not row[0].startswith("-")}
        self.assertEqual(told, {act.value: [act in MAY[role] for role in MAY] for act in May})

    def test_a_session_is_told_what_its_role_is_and_allows(self):
        for role, person in self.people.items():
            (mine,) = self.get("session", person)["productions"]
            self.assertEqual(mine["role"], Role(role).label)
            self.assertEqual(set(mine["may"]), {act.name.lower() for act in MAY[role]})
