"""Deciding, as people do it: a plan, a stretch of time, several cards, a rig, a reader by itself."""

from datetime import timedelta

from selenium.webdriver import ActionChains
from selenium.webdriver.common.keys import Keys

from ruggedraft.intake.models import Reader
from ruggedraft.offloads.models import Offload
from ruggedraft.productions.models import Camera, Plan, RedundancyRule, Rig
from ruggedraft.rolls.models import Copy, LeftBehind
from ruggedraft.standins import card_maker, hub
from tests.server.world import SHOT

from .case import BrowserCase


class Deciding(BrowserCase):
    def stills(self, count: int = 4) -> None:
        self.blank_card()
        card_maker.add_stills(self.card_folder, prefix="SKR_", first=1, count=count, start=SHOT, kinds=["JPG"])

    def put_in(self, label: str, slot: str) -> None:
        hub.remove(slot)
        hub.insert(label, slot)

    def in_again(self, browser) -> None:
        hub.remove("slot-1")
        browser.see("[data-slot='slot 1']", "empty")
        hub.insert("A-01", "slot-1")

    def test_a_plan_is_edited_against_a_real_card_and_the_next_offload_follows_it(self):
        self.stills(2)
        wren = self.browser("wren")
        self.in_again(wren)
        wren.see("[data-contents]", "2 stills")
        wren.press("s")
        names = wren.see("[data-names-template]")
        wren.see("[data-example]", "On card A-01")
        names.send_keys("{number:4}")
        wren.see("[data-example-trouble]", "the camera's own number is never lost")
        names.send_keys("_{counter}")
        wren.see("[data-kept]", "0001_0001.JPG")
        names.send_keys(Keys.HOME, "{camera}-{roll:lower}_")
        wren.see("[data-kept]", "A-a001_0001_0001.JPG")
        self.assertEqual(wren.violations(), [])
        wren.tab_to("[data-save-plan]")
        wren.press(Keys.ENTER)
        wren.until(lambda: Camera.objects.select_related("plan").get(letter="A").plan.names_template, "it is saved")
        wren.press("b")
        wren.see("[data-slot='slot 1']")  # Set-up shows the same names
        wren.see("[data-names]", "A-a001_0002_0002.JPG")
        wren.press("o")
        wren.see("[data-outcome='well']", "agree with the card")
        self.assertTrue((self.on_drive("one") / "A-a001_0002_0002.JPG").exists())
        self.assertEqual(wren.console_errors(), [])

    def test_a_stretch_of_time_is_drawn_taken_and_the_rest_is_asked_about_when_clearing(self):
        self.stills(4)
        wren = self.browser("wren")
        self.in_again(wren)
        wren.see("[data-contents]", "4 stills")
        wren.see("[data-take]", "Draw on the ribbon")
        ribbon = wren.see("[data-ribbon] .ground")
        half = ribbon.size["width"] // 2
        drawing = ActionChains(wren.driver).move_to_element_with_offset(ribbon, 4 - half, 0).click_and_hold()
        drawing.move_by_offset(half // 2, 0).move_by_offset(half // 2, 0).release().perform()
        wren.see("[data-taken]", "Takes 2 files")
        self.assertTrue(wren.driver.find_elements("css selector", "[data-range]"))
        self.assertEqual(wren.violations(), [])
        wren.tab_to("[data-until]")
        wren.press(*[Keys.BACKSPACE] * 8, "09:00:30", Keys.ENTER)
        wren.see("[data-taken]", "Takes 1 file")
        wren.see("[data-way='everything']").click()
        wren.tab_to("[data-sheet]")
        wren.press(Keys.ARROW_RIGHT, Keys.SPACE, Keys.ARROW_RIGHT, Keys.SPACE)
        wren.see("[data-taken]", "Takes 2 files")
        wren.see("[data-next]", "Offload A001").click()
        wren.see("[data-outcome='well']")
        self.assertEqual(LeftBehind.objects.count(), 2)
        wren.press("c")
        wren.see("[data-card='A-01']", "2 files of these stayed on the card on purpose")
        wren.see("[data-left] .link").click()
        wren.see("[data-left]", "SKR_0003.JPG")
        wren.see("[data-waive-reason]").send_keys("the neighbour's")
        self.assertEqual(wren.violations(), [])
        wren.see("[data-waive]").click()
        wren.see("[data-card='A-01']", "SIGN?")
        self.assertEqual(wren.console_errors(), [])

    def test_three_cards_through_two_readers_in_another_order(self):
        self.new_card("A-02", {"two.MOV": bytes(3_000_000)})
        self.new_card("A-03", {"three.MOV": bytes(2_000_000)})
        wren = self.browser("wren")
        hub.insert("A-02", "slot-2")
        wren.see("[data-slot='slot 2']", "not offloaded")
        self.kill_station()
        for slot, tag in (("slot 1", "A001"), ("slot 2", "A002")):
            wren.see(f"[data-slot='{slot}']").click()
            wren.see("[data-next]", f"Offload {tag}").click()
            wren.see(f"[data-queued='{tag}']", "waits")
        self.assertEqual(self.order(wren), ["A001", "A002"])
        wren.tab_to("[data-sooner]", "A002 sooner")
        wren.press(Keys.ENTER)
        wren.until(lambda: self.order(wren) == ["A002", "A001"], "the order changed")
        wren.see("[data-queued='A001'] [data-pause]").click()
        wren.see("[data-queued='A001']", "paused")
        wren.see("[data-queued='A002'] [data-free]", "free in a few seconds")
        wren.see("[data-slot='slot 2']", "waits its turn")
        self.assertEqual(wren.violations(), [])
        self.start_station()
        wren.see("[data-slot='slot 2']", "ready to sign")
        self.assertEqual(Offload.objects.exclude(finished_at=None).get().roll.tag, "A002")
        self.put_in("A-03", "slot-2")
        wren.see("[data-slot='slot 2']", "A-03")
        wren.see("[data-slot='slot 2']").click()
        wren.see("[data-next]", "Offload A003").click()
        wren.see("[data-queued='A001'] [data-pause]", "Go on").click()
        for slot in ("slot 1", "slot 2"):
            wren.see(f"[data-slot='{slot}']", "ready to sign")
        self.assertEqual(wren.console_errors(), [])

    def order(self, browser) -> list[str]:
        rows = browser.driver.find_elements("css selector", "[data-queued]")
        return [row.get_attribute("data-queued") for row in rows]

    def test_a_rig_with_a_clip_too_many_is_seen_at_once_and_starting_asks(self):
        rig = Rig.objects.create(production=self.production, name="Hull")
        for n, letter in enumerate(("R1", "R2", "R3"), 1):
            self.camera = Camera.objects.create(
                production=self.production, letter=letter, name="Limpet", kind="action", plan=self.plan
            )
            rig.cameras.add(self.camera)
            _, folder = self.new_card(f"{letter}-01", {})
            shots = [(0, 3.0), (60, 4.0), (150, 3.0), *([(100, 2.0)] if letter == "R3" else [])]
            card_maker.add_rig_clips(folder, shots=sorted((SHOT + timedelta(seconds=at + 4 * n), s) for at, s in shots))
            self.put_in(f"{letter}-01", f"slot-{n}")
        wren = self.browser("wren")
        wren.see("[data-slot='slot 3']", "not offloaded")
        wren.see("[data-slot='slot 3']").click()
        wren.see("[data-rig-odd]", "R3 has a 2-second clip, LMPT0003, that no other camera has.")
        wren.see("[data-rig-panel]", "R1 3, R2 3, R3 4")
        self.assertEqual(len(wren.driver.find_elements("css selector", "[data-rig-clip]")), 10)
        self.assertEqual(len(wren.driver.find_elements("css selector", "[data-rig-clip][data-odd='extra']")), 1)
        self.assertTrue(wren.off(wren.see("[data-next]", "Offload R3-001")))
        self.assertEqual(wren.violations(), [])
        wren.tab_to("[data-anyway] input")
        wren.press(Keys.SPACE)
        wren.until(lambda: not wren.off(wren.see("[data-next]", "Offload R3-001")), "it may go")
        wren.press("o")
        wren.see("[data-slot='slot 3']", "ready to sign")

    def test_a_camera_gets_another_plan_and_a_plan_another_checksum_by_keyboard(self):
        self.post("setup/plans", {"name": "Interviews", "folder": "{roll}", "stores": ["one", "two"]}, self.sol)
        sol = self.browser("sol")
        sol.go("/setup")
        sol.tab_to("[data-part='cameras'] .part-head")
        sol.press(Keys.ENTER)
        sol.tab_to("[aria-label='Plan of camera A']")
        sol.press(Keys.ENTER)
        sol.see("[role='option']", "Interviews")
        sol.press("i", Keys.ENTER)
        sol.until(lambda: Camera.objects.get(letter="A").plan.name == "Interviews", "it is saved")
        sol.see("[role='status']", "Saved")
        sol.tab_to("[data-checksum] [role='combobox']")
        sol.press(Keys.ENTER, "m", "d", Keys.ENTER)
        sol.see("[data-checksum]", "md5")
        sol.tab_to("[data-save-plan]")
        sol.press(Keys.ENTER)
        sol.until(lambda: Plan.objects.filter(algorithm="md5").exists(), "it is saved")
        self.assertEqual(sol.violations(), [])
        self.assertEqual(sol.console_errors(), [])

    def test_a_rule_says_what_it_would_change_before_it_is_saved(self):
        self.offload()
        sol = self.browser("sol")
        sol.go("/setup")
        sol.tab_to("[data-part='rule'] .part-head")
        sol.press(Keys.ENTER)
        sol.tab_to("[data-rule-part='copies'] input")
        sol.press(Keys.ARROW_UP)
        sol.see("[data-rule-effect]", "3 copies on 2 devices")
        sol.see("[data-falls]", "1 roll would no longer meet it: A001.")
        sol.see("[data-card-change='A-01']", "is ready to sign, and would be not clear")
        self.assertEqual(sol.violations(), [])
        sol.tab_to("[data-rule-reason]")
        sol.press(*"more", Keys.ENTER)
        sol.until(lambda: RedundancyRule.objects.get(production=self.production).copies == 3, "it is saved")
        sol.see("[data-part='rule'] .part-head", "3 copies on 2 devices")
        self.assertEqual(sol.console_errors(), [])

    def test_a_card_goes_to_another_store_chosen_by_keyboard(self):
        wren = self.browser("wren")
        wren.see("[data-next]", "Offload A001")
        wren.tab_to("[data-goes-to] [role='combobox']")
        wren.press(Keys.SPACE)
        wren.see("[role='option']", "three")
        self.assertEqual(wren.violations(), [])
        wren.press(Keys.HOME, Keys.ARROW_DOWN, Keys.ENTER)
        wren.see("[data-store='three']")
        wren.press(Keys.ARROW_DOWN, Keys.ENTER, Keys.ESCAPE)
        wren.until(lambda: self.stores(wren) == ["one", "three"], f"two is left out: {self.stores(wren)}")
        wren.tab_to("[data-next]", "Offload A001")
        wren.press(Keys.ENTER)
        wren.see("[data-outcome='well']", "both agree with the card")
        copies = set(Copy.objects.values_list("store__name", flat=True))
        self.assertEqual(copies, {"one", "three"})
        wren.see("[data-next]", "On to Clearing")
        self.assertEqual(wren.console_errors(), [])

    def stores(self, wren) -> list[str]:
        rows = wren.driver.find_elements("css selector", "[data-store]")
        return [row.get_attribute("data-store") for row in rows]

    def test_a_reader_by_itself_goes_when_it_may_and_stops_to_ask_when_it_may_not(self):
        _, folder = self.new_card("A-02", {})
        card_maker.add_stills(folder, prefix="SKR_", first=1, count=1, start=SHOT)
        _, odd = self.new_card("A-03", {"odds/loose.jpg": b"x"})
        wren = self.browser("wren")
        wren.see("[data-slot='slot 2']", "empty")
        wren.tab_to("[data-unattended-reader='slot 2'] [role='switch']")
        wren.press(Keys.SPACE)
        wren.until(lambda: Reader.objects.get(name="slot 2").unattended_by, "it is on")
        wren.tab_to("[data-unattended-reader='slot 2'] [role='combobox']")
        wren.press(Keys.SPACE, Keys.ARROW_DOWN, Keys.ENTER)
        wren.until(lambda: Reader.objects.get(name="slot 2").unattended_plan, "it is on")
        hub.insert("A-02", "slot-2")
        wren.see("[data-slot='slot 2']", "ready to sign")
        self.put_in("A-03", "slot-2")
        wren.see("[data-unattended-reader='slot 2'] [data-unattended]", "waits for you")
        wren.see("[data-slot='slot 2']").click()
        wren.see("[data-waits]", "Its layout is none that a camera writes.")
        self.assertEqual(wren.violations(), [])
        self.assertEqual(Offload.objects.count(), 1)
        self.assertTrue(odd.exists())
