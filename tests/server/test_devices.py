"""What lies under a folder on this machine's own kernel, and what is stated where it cannot be told."""

import os
import subprocess
import tempfile
from pathlib import Path
from unittest import skipUnless

from django.test import SimpleTestCase, TestCase, override_settings

from ruggedraft.core.machine.devices import UNKNOWN, DeviceTree
from ruggedraft.core.redundancy import device_groups
from ruggedraft.rolls.models import Reading
from ruggedraft.stores.acts.introduce_store import introduce_store
from ruggedraft.stores.models import Store
from ruggedraft.stores.queries import devices_of, store_facts, stores

from .world import World


def _may_mount() -> bool:
    return os.geteuid() == 0 and Path("/dev/loop-control").exists()


def _run(*words: str) -> str:
    return subprocess.run(words, check=True, capture_output=True, text=True).stdout.strip()


@skipUnless(_may_mount(), "mounting needs root")
class ThisMachine(SimpleTestCase):
    """Real file systems on loop devices, whose files all lie on one disk of this machine."""

    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.base = Path(folder.name)

    def mounted(self, name: str, *words: str) -> Path:
        there = self.base / name
        there.mkdir()
        _run("mount", *words, str(there))
        self.addCleanup(_run, "umount", str(there))
        return there

    def image(self, name: str, make: list[str], mebibytes: int) -> Path:
        image = self.base / name
        with image.open("wb") as file:
            file.truncate(mebibytes << 20)
        _run(*make, str(image))
        return image

    def test_two_subvolumes_of_one_btrfs_are_one_device_and_stay_what_they_are_at_the_next_mount(self):
        image = self.image("disk", ["mkfs.btrfs", "-q", "-f"], 160)
        whole = self.mounted("whole", "-o", "loop", str(image))
        for name in ("a", "b"):
            _run("btrfs", "subvolume", "create", str(whole / name))
        tree = DeviceTree()
        before = tree.under(whole / "a"), tree.under(whole / "b")
        self.assertEqual(before[0], before[1])
        device = _run("findmnt", "-n", "-o", "SOURCE", str(whole)).split("[")[0]
        again = [self.mounted(f"again-{name}", "-o", f"subvol={name}", device) for name in ("b", "a")]
        self.assertEqual({tree.under(folder) for folder in again}, {before[0]})

    def test_two_loop_devices_over_one_file_and_two_over_one_disk_are_one_device(self):
        one = self.image("one", ["mkfs.ext4", "-q", "-F"], 8)
        two = self.image("two", ["mkfs.ext4", "-q", "-F"], 8)
        tree = DeviceTree()
        first = self.mounted("first", "-o", "loop", str(one))
        second = self.mounted("second", "-o", "loop", str(two))
        again = _run("losetup", "--find", "--show", "--read-only", str(one))
        self.addCleanup(_run, "losetup", "--detach", again)
        twin = self.mounted("twin", "-o", "ro,noload", again)
        holder = tree.under(self.base)
        for folder in (first, second, twin):
            self.assertEqual(tree.under(folder), holder)
        bound = self.mounted("bound", "--bind", str(first))
        self.assertEqual(tree.under(bound), holder)

    def test_two_overlays_on_one_disk_are_one_device(self):
        found = set()
        for name in ("x", "y"):
            for part in ("low", "up", "work"):
                (self.base / f"{name}-{part}").mkdir()
            options = ",".join(f"{word}dir={self.base}/{name}-{part}"
                               for word, part in (("lower", "low"), ("upper", "up"), ("work", "work")))  # fmt: skip
            try:
                found.add(DeviceTree().under(self.mounted(name, "-t", "overlay", "overlay", "-o", options)))
            except subprocess.CalledProcessError:
                self.skipTest("overlays cannot be mounted here")
        self.assertEqual(found, {DeviceTree().under(self.base)})


@override_settings(DEVICE_PROBE="tests.server.test_devices.Doubtful")
class Stated(World, TestCase):
    """What cannot be told depends on everything else that cannot be told, until a supervisor says otherwise."""

    def drive(self, name: str, **more) -> Store:
        folder = self.base / "drives" / name
        folder.mkdir(parents=True)
        words = {"name": name, "device_name": name, "medium": "ssd", "location": self.cart}
        return introduce_store(self.sol, self.production.pk, folder=folder, **words)

    def test_two_unknown_stores_are_one_device_until_it_is_stated_with_a_reason(self):
        facts = [store_facts(store) for store in stores()]
        self.assertEqual(len(device_groups(facts)), 1)
        self.assertIn("separate devices", str(self.get("bench")["slots"][0]["proposal"]["short"]))
        where = "stores/two/device"
        said = {"stands_on": "the blue disk", "reason": "I plugged it in"}
        self.assertEqual(self.post(where, said, self.wren).status_code, 403)
        self.assertEqual(self.post(where, {**said, "reason": " "}, self.sol).status_code, 409)
        self.assertEqual(self.post(where, said, self.sol).status_code, 200)
        self.assertEqual(len(device_groups([store_facts(store) for store in stores()])), 2)
        self.assertEqual(self.get("bench")["slots"][0]["proposal"]["short"], [])
        self.assertIn("I plugged it in", self.get("log")["entries"][0]["sentence"])
        self.assertEqual(self.post("stores/three/device", said, self.sol).status_code, 200)
        two, three = (devices_of(stores().get(name=name)) for name in ("two", "three"))
        self.assertTrue(two & three, "said to stand on one thing, they are one")

    def test_where_the_machine_can_tell_nobody_may_say_otherwise(self):
        Store.objects.filter(name="one").update(identities=["disk S1"])
        answer = self.post("stores/one/device", {"stands_on": "x", "reason": "y"}, self.sol)
        self.assertIn("can tell", answer.json()["title"])
        self.assertEqual(Reading.objects.count(), 0)


class Doubtful:
    """A probe of a machine that cannot tell."""

    def under(self, folder: Path) -> frozenset[str]:
        folder.stat()
        return frozenset({UNKNOWN})

    def is_system_disk(self, folder: Path) -> bool:
        return False

    def room(self, folder: Path):
        from ruggedraft.core.stores import Room

        return Room(10**9, 10**9)

    def file_system(self, folder: Path) -> str:
        return "Linux"
