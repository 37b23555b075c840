"""What came over a mount from a server: may this machine have kept it where dropping a file's pages does not reach?

The lines are as proc(5) gives them, the options as nfs(5) and mount.cifs(8) name them; Ceph's and 9P's from memory.
"""

import tempfile
from pathlib import Path
from unittest import TestCase, mock

from ruggedraft.core.evidence import Evidence
from ruggedraft.core.files import medium
from ruggedraft.core.machine.mount_table import Mount, caches_on_disk, read_mounts
from ruggedraft.core.stores import LocalStore
from ruggedraft.core.stores.port import ToRead

_NFS = 0x6969  # statfs(2)
_NFS_OPTIONS = "rw,vers=4.2,rsize=1048576,hard,proto=tcp,addr=192.0.2.7"
_CIFS_OPTIONS = "rw,vers=3.1.1,cache=strict,username=raft,addr=192.0.2.7"
WITHOUT = {
    "nfs4": ("array:/work", _NFS_OPTIONS),
    "nfs": ("array:/work", _NFS_OPTIONS.replace("4.2", "3")),
    "cifs": ("//array/work", _CIFS_OPTIONS),
    "ceph": ("192.0.2.7:/", "rw,name=raft,acl"),
    "9p": ("host", "rw,access=client,trans=virtio,cache=none"),
}
WITH = {
    "nfs4": ("array:/work", f"{_NFS_OPTIONS},fsc"),
    "nfs": ("array:/work", f"{_NFS_OPTIONS},fsc,local_lock=none"),
    "cifs": ("//array/work", f"{_CIFS_OPTIONS},fsc"),
    "ceph": ("192.0.2.7:/", "rw,fsc=one,acl"),
    "9p": ("host", "rw,trans=virtio,cache=fscache"),
    "afs": ("%cell:work", "rw"),
}


def _mount(kind: str, source: str, options: str) -> Mount:
    line = f"90 21 0:52 / /mnt/array rw,relatime shared:5 - {kind} {source} {options}\n"
    (mount,) = read_mounts(line.encode())
    return mount


class CachesOnDisk(TestCase):
    def test_a_mount_without_one_keeps_nothing_more(self):
        for kind, told in WITHOUT.items():
            self.assertFalse(caches_on_disk(_mount(kind, *told)), kind)

    def test_a_mount_with_one_may_give_what_it_kept(self):
        for kind, told in WITH.items():
            self.assertTrue(caches_on_disk(_mount(kind, *told)), kind)


class WhatIsClaimed(TestCase):
    def level(self, *, kept: bool) -> tuple[Evidence, Evidence]:
        """Of a file that is read alone, and of one that is read together with others."""
        with (
            tempfile.TemporaryDirectory() as folder,
            mock.patch.object(medium, "file_system_number", return_value=_NFS),
            mock.patch.object(medium, "caches_on_disk", return_value=kept),
        ):
            store = LocalStore("array", Path(folder))
            store.open()
            Path(folder, "A.MOV").write_bytes(b"as it is")
            alone = store.read_back("A.MOV", lambda data: None)
            together = store.read_back_small([ToRead("A.MOV", 8)], lambda n, data: None)
            store.close()
        return alone, together[0]

    def test_read_back_only_where_nothing_can_have_been_kept(self):
        self.assertEqual(self.level(kept=False), (Evidence.READ_BACK, Evidence.READ_BACK))
        self.assertEqual(self.level(kept=True), (Evidence.WRITTEN, Evidence.WRITTEN))
