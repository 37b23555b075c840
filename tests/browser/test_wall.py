"""The wall view: read from five metres, turning its pages by itself, and never silently out of date."""

from django.contrib.sessions.models import Session
from selenium.webdriver.common.keys import Keys

from .case import BrowserCase


class Wall(BrowserCase):
    reader_rate = 10**9

    def test_it_turns_its_pages_and_says_when_it_is_not_live(self):
        wren = self.browser("wren", 1920, 1080)
        wren.go("/heron/tally")
        wren.tab_to("[data-wall-link]")
        wren.press(Keys.ENTER)
        wren.see("[data-wall-card='A-01']", "NOT CLEAR")
        for css in ("[data-wall-card] .name", "[data-wall-card] [data-verdict]", "[data-wall-card] .why"):
            size = wren.see(css).value_of_css_property("font-size")
            self.assertGreaterEqual(
                float(size.removesuffix("px")), 54, "25 mm high on a screen of 1.2 m, for five metres"
            )
        self.assertEqual(wren.violations(), [])
        wren.press(Keys.ARROW_RIGHT)
        wren.see("[data-wall-unsafe='waiting']", "A-01")
        wren.see("[data-wall-page='stores']", "free")
        wren.see("[data-wall-page='cards']")
        wren.press(Keys.SPACE)
        wren.see("main", "Stopped.")
        self.offload()
        wren.see("[data-wall-card='A-01']", "SIGN?")
        self.stop_web()
        wren.see("[data-not-live]", "Not live")
        self.start_web()
        wren.until(lambda: not wren.all("[data-not-live]"), "it is live again")
        wren.press(Keys.ESCAPE)
        wren.see("[data-roll='A001']")

    def test_who_has_to_sign_in_again_can_do_so_over_the_wall(self):
        wren = self.browser("wren")
        wren.go("/heron/wall")
        wren.see("[data-wall-page]")
        Session.objects.all().delete()
        wren.see("[data-session-ended]", "Sign in to go on where you were")
        field = wren.see("input[type='password']")
        field.click()  # refused where anything lies over it
        field.send_keys("wren-password", Keys.ENTER)
        wren.until(lambda: not wren.all("[data-session-ended]"), "signed in again")
        wren.see("[data-wall-page]")
