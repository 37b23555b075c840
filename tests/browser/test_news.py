"""News that matters in the browser: seen on every screen, chosen, and known by somebody."""

from selenium.webdriver.common.keys import Keys

from ruggedraft.crew.models import Person
from ruggedraft.news.models import News, NewsChoice
from ruggedraft.news.telling import tell_news
from ruggedraft.rolls.acts.report_loss import report_loss

from .case import BrowserCase


class NewsThatMatters(BrowserCase):
    def test_what_happened_is_seen_by_all_until_somebody_knows(self):
        tell_news(self.production)
        self.offload()
        tell_news(self.production)
        wren, pip = self.browser("wren"), self.browser("pip", 390, 844)
        pip.go("/heron/news")
        pip.see("[data-news='roll verified']", "A001 is verified. Its rule asks for 2 copies on 2 devices")
        report_loss(self.sol, self.drives["three"].device, "fell overboard")
        tell_news(self.production)
        wren.see("[data-news-link]", "1")
        wren.tab_to("[data-news-link]")
        wren.press(Keys.ENTER)
        wren.see("[data-news='trouble']", "'three' was reported lost by Sol: fell overboard")
        pip.see("[data-unseen] [data-news='trouble']")
        wren.tab_to("[data-news='trouble'] [data-i-know]")
        wren.press(Keys.ENTER)
        pip.see("[data-before] [data-news='trouble']", "seen by Wren")
        self.assertEqual(News.objects.get(kind="trouble").seen_by, self.wren)
        wren.tab_to("[data-choice='trouble/e-mail'] input")
        wren.press(Keys.SPACE)
        wren.tab_to("[data-email]")
        wren.press("wren@crew.example")
        wren.tab_to("[data-keep-choices]")
        wren.press(Keys.ENTER)
        wren.see("[data-kept]")
        self.assertIn("e-mail", NewsChoice.objects.get(person=self.wren).choices["trouble"])
        self.assertEqual(Person.objects.get(pk=self.wren.pk).email, "wren@crew.example")
        for browser in (wren, pip):
            self.assertEqual(browser.violations() + browser.console_errors(), [])
