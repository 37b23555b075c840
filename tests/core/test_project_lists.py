"""Lists of files as projects hand them out: tables, and timelines written by OpenTimelineIO's own library."""

import json
from unittest import TestCase

import opentimelineio as otio

from ruggedraft.core.errors import TableRefused
from ruggedraft.core.working import Candidate, Named, file_meant, place_under, read_project_list


def timeline(*urls: str) -> bytes:
    """As editing programs write it: nested tracks, a gap, a clip without media."""
    track = otio.schema.Track("V1")
    for n, url in enumerate(urls):
        track.append(otio.schema.Clip(f"take {n}", media_reference=otio.schema.ExternalReference(target_url=url)))
    track.append(otio.schema.Gap(duration=otio.opentime.RationalTime(10, 25)))
    track.append(otio.schema.Clip("title", media_reference=otio.schema.MissingReference()))
    nested = otio.schema.Stack("scene 12")
    nested.append(track)
    whole = otio.schema.Timeline("barge")
    whole.tracks.append(otio.schema.Track("V"))
    whole.tracks[0].append(nested)
    return otio.adapters.write_to_string(whole, "otio_json").encode()


class ProjectLists(TestCase):
    def test_a_timeline_names_the_files_of_its_clips_each_once(self):
        data = timeline("file:///mnt/edit/A001/C1.MOV", "file:///mnt/edit/a%20b/%C3%84.MOV", "file:///mnt/edit/A001/C1.MOV",
                        "D:\\edit\\C9.MOV", "media/C2.MOV")  # fmt: skip
        self.assertEqual(
            read_project_list(data),
            ("/mnt/edit/A001/C1.MOV", "/mnt/edit/a b/Ä.MOV", "D:/edit/C9.MOV", "media/C2.MOV"),
        )

    def test_every_media_of_a_clip_and_every_frame_of_a_sequence_is_named(self):
        frames = otio.opentime.TimeRange(otio.opentime.RationalTime(0, 24), otio.opentime.RationalTime(3, 24))
        sequence = otio.schema.ImageSequenceReference(
            "file:///x/", "a.", ".dpx", start_frame=7, frame_zero_padding=4, rate=24, available_range=frames
        )
        clip = otio.schema.Clip("shot")
        clip.set_media_references({"full": sequence, "light": otio.schema.ExternalReference("b.mp4")}, "full")
        data = otio.adapters.write_to_string(otio.schema.SerializableCollection(children=[clip]), "otio_json")
        self.assertEqual(
            sorted(read_project_list(data.encode())), ["/x/a.0007.dpx", "/x/a.0008.dpx", "/x/a.0009.dpx", "b.mp4"]
        )

    def test_of_a_table_it_is_the_column_of_files(self):
        data = "Title,Scene,File,Length\nBarge,12B,A001/C1.MOV,10.25\nGull. In frame,3,A001/C2.MOV,9.00\n,,,\n"
        self.assertEqual(read_project_list(data.encode()), ("A001/C1.MOV", "A001/C2.MOV"))
        self.assertEqual(read_project_list("\ufeffClip;Rate\nC1.MOV;25\nC2.MOV;25\n".encode()), ("C1.MOV", "C2.MOV"))

    def test_a_table_that_ends_with_names_is_a_table(self):
        listed = read_project_list(b"12B,A001/C1.MOV\n12C,A001/C2.MOV\n12D,A001/C3.MOV\n")
        self.assertEqual(listed, ("A001/C1.MOV", "A001/C2.MOV", "A001/C3.MOV"))

    def test_one_name_a_line_is_a_list(self):
        self.assertEqual(read_project_list(b"Files used\nC1.MOV\nC2.MOV"), ("C1.MOV", "C2.MOV"))
        self.assertEqual(read_project_list(b"C1.MOV\nA/C 2.MOV\n\n"), ("C1.MOV", "A/C 2.MOV"))

    def test_what_is_no_list_is_refused_with_a_sentence(self):
        deep = b'{"OTIO_SCHEMA":"SerializableCollection.1","children":[' * 20_000
        hostile = {
            b"": "nothing in this file", b"{": "cannot be read as one", b"[]": "no clips", b"{}": "no clips",
            b'{"OTIO_SCHEMA":"Timeline.99"}': "cannot be read as one", b"\x00\x01\x02": "no text",
            deep: "nested too deeply", b"PK\x03\x04" + bytes(50): "spreadsheet or an archive",
            b"a,b\n1,2\n": "No file is named", b"x" * 20_000_001: "at most 20,000,000",
            timeline(): "No file is named", b'{"OTIO_SCHEMA":"Clip.2","media_references":7}': "cannot be read as one",
            "\n".join(f"C{n}.MOV" for n in range(20_001)).encode(): "names 20,001 files",
        }  # fmt: skip
        for data, words in hostile.items():
            with self.assertRaises(TableRefused) as refused:
                read_project_list(data)
            self.assertIn(words, str(refused.exception))

    def test_one_that_refers_to_itself_ends_what_reads_it_and_not_us(self):
        """The library follows it until its stack is full: a segmentation fault."""
        for schema in ("SerializableCollection.1", "Stack.1"):
            itself = {"OTIO_SCHEMA": "SerializableObjectRef.1", "id": "a"}
            data = {"OTIO_SCHEMA": schema, "OTIO_REF_ID": "a", "name": "x", "metadata": {}, "children": [itself]}
            if schema == "Stack.1":
                data |= {"effects": [], "markers": [], "source_range": None, "enabled": True}
            with self.assertRaises(TableRefused) as refused:
                read_project_list(json.dumps(data).encode())
            self.assertRegex(str(refused.exception), "came to no end|No file is named|cannot be read")

    def test_a_sequence_that_lies_about_its_length_is_bounded(self):
        data = json.loads(timeline("a.MOV"))
        lying = {
            "OTIO_SCHEMA": "ImageSequenceReference.1",
            "target_url_base": "x/",
            "name_prefix": "a.",
            "name_suffix": ".dpx",
            "start_frame": 1,
            "frame_step": 1,
            "rate": 24.0,
            "frame_zero_padding": 4,
            "missing_frame_policy": "error",
            "available_range": {
                "OTIO_SCHEMA": "TimeRange.1",
                "start_time": {"OTIO_SCHEMA": "RationalTime.1", "rate": 24.0, "value": 0.0},
                "duration": {"OTIO_SCHEMA": "RationalTime.1", "rate": 24.0, "value": 1e9},
            },
        }
        clip = {"OTIO_SCHEMA": "Clip.1", "name": "x", "media_reference": lying}
        data["tracks"]["children"][0]["children"][0]["children"][0]["children"] = [clip]
        with self.assertRaises(TableRefused) as refused:
            read_project_list(json.dumps(data).encode())
        self.assertIn("at most 20,000", str(refused.exception))


class Matching(TestCase):
    def test_the_longest_end_decides_and_nobody_guesses(self):
        one = Candidate(1, ("Heron/A001/CLIP/C1.MOV",), "x")
        other = Candidate(2, ("Heron/B001/CLIP/C1.MOV",), "y")
        self.assertEqual(file_meant("e:/proj/b001/clip/c1.mov", [one, other]).file, 2)
        self.assertEqual(file_meant("CLIP/C1.MOV", [one, other]), (None, 2))
        self.assertEqual(file_meant("C1.MOV", []), (None, 0))
        twin = Candidate(3, ("Heron/C001/CLIP/C1.MOV",), "x")
        self.assertEqual(file_meant("C1.MOV", [one, twin]).file, 1, "both hold the same")

    def test_a_place_never_leads_out_of_the_folder(self):
        named = Named("/mnt/edit", {"A001"})
        for path in ("../../etc/x.MOV", "/etc/../x.MOV", "./x.MOV", "/x.MOV", "x.MOV"):
            self.assertNotIn("..", place_under(named, path).split("/"), path)
            self.assertTrue(place_under(named, path).endswith("x.MOV"))
        self.assertNotIn("..", place_under(named, "/mnt/edit/../x.MOV").split("/"))
