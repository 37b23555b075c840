"""News that matters: told once each, by page, sound, browser, e-mail and to other programs."""
