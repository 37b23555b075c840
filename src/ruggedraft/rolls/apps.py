from django.apps import AppConfig


class RollsConfig(AppConfig):
    name = "ruggedraft.rolls"
    verbose_name = "rolls"

    def ready(self) -> None:
        from ruggedraft.intake.acts import read_card

        from .acts.confirm_card import confirm_or_ask

        if confirm_or_ask not in read_card.after_listing:
            read_card.after_listing.append(confirm_or_ask)
