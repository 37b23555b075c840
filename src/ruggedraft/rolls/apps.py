from django.apps import AppConfig


class RollsConfig(AppConfig):
    name = "ruggedraft.rolls"
    verbose_name = "rolls"

    def ready(self) -> None:
        from ruggedraft.intake.acts import read_card, read_headers

        from .acts.confirm_card import confirm_or_ask, looks_known
        from .footage import keep_media

        if confirm_or_ask not in read_card.after_listing:
            read_card.after_listing.append(confirm_or_ask)
            read_card.looks_known.append(looks_known)
        if keep_media not in read_headers.after_headers:
            read_headers.after_headers.append(keep_media)
