"""Camera reports against rolls: what belongs together, and every way in which they do not agree."""

from unittest import TestCase

from ruggedraft.core.camera_reports import (
    ColumnUse,
    MismatchKind,
    ReportLine,
    RollClips,
    lines_of,
    matched,
    proposed_columns,
)
from ruggedraft.core.errors import TableRefused
from ruggedraft.core.tables import read_table


def roll(tag: str, *names: str, left: tuple[str, ...] = (), stills: bool = False) -> RollClips:
    clips = {f"CLIPS/{name}.MOV": name for name in names}
    return RollClips(tag, clips, frozenset() if stills else frozenset(clips), left)


class Matching(TestCase):
    def told(self, lines, *rolls) -> list[tuple[MismatchKind, str]]:
        return [(one.kind, one.sentence) for one in matched(lines, rolls).mismatches]

    def test_rolls_and_clips_are_found_however_they_are_written(self):
        here = roll("A012", "A012_C001", "A012_C002")
        for said in ("A012", "a12", "A-012", " A 12 ", "12"):
            for clip in ("1", "001", "C001", "A012_C001", "a012c001", "A012_C001.MOV"):
                found = matched([ReportLine(2, said, clip)], [here, roll("B003", "B003_C001")])
                self.assertEqual(found.clips, {2: "CLIPS/A012_C001.MOV"}, (said, clip))

    def test_a_number_that_several_rolls_have_is_not_guessed(self):
        both = roll("A012", "A012_C001"), roll("B012", "B012_C001")
        self.assertEqual(self.told([ReportLine(2, "12", "1")], *both), [
            (MismatchKind.UNCERTAIN, "Line 2 of the report names roll 12, which may be A012 or B012."),
        ])  # fmt: skip

    def test_what_one_has_and_the_other_has_not(self):
        here = roll("A012", "A012_C001", "A012_C008")
        lines = [ReportLine(2, "A012", "1"), ReportLine(3, "A012", "7"), ReportLine(4, "A014", "1")]
        self.assertEqual(self.told(lines, here), [
            (MismatchKind.NO_CLIP, "The report has clip 7, A012 has not."),
            (MismatchKind.NO_ROLL, "Line 4 of the report names roll A014, which is not here."),
            (MismatchKind.NOT_REPORTED, "A012 has A012_C008, the report has not."),
        ])  # fmt: skip

    def test_what_was_left_on_the_card_is_said_to_be_there(self):
        here = roll("A012", "A012_C001", left=("A012_C007.MOV",))
        lines = [ReportLine(2, "A012", "1"), ReportLine(3, "A012", "7")]
        self.assertEqual(self.told(lines, here), [
            (MismatchKind.NO_CLIP, "The report has clip 7, A012_C007.MOV was left on the card on purpose."),
        ])  # fmt: skip

    def test_what_fits_several_is_not_guessed(self):
        here = roll("A012", "X_007", "Y_007")
        found = matched([ReportLine(2, "A012", "7")], [here])
        self.assertEqual(found.clips, {})
        self.assertEqual(found.mismatches[0].sentence, "The report's clip 7 fits several of A012: X_007, Y_007.")
        twice = [ReportLine(2, "A012", "1"), ReportLine(3, "A012", "C001")]
        self.assertEqual([kind for kind, _ in self.told(twice, roll("A012", "A012_C001"))], ["uncertain"] * 2)

    def test_a_number_is_a_recordings_before_it_is_a_stills(self):
        clips = {"A.MOV": "A012_C007", "B.JPG": "DSC_0007"}
        found = matched([ReportLine(2, "A012", "7")], [RollClips("A012", clips, frozenset({"A.MOV"}))])
        self.assertEqual((found.clips, found.mismatches), ({2: "A.MOV"}, ()))

    def test_stills_are_not_missed_in_a_report(self):
        self.assertEqual(self.told([ReportLine(2, "S001", "")], roll("S001", "DSC_0001", stills=True)), [])


class Columns(TestCase):
    def table(self, text: str):
        return read_table(text.encode())

    def test_columns_are_known_by_their_names_or_as_was_said_before(self):
        head = ("Mag", "File name", "Scene", "Take", "Notes", "Comments DIT")
        self.assertEqual(proposed_columns(head, {}), {
            "roll": ["Mag"], "clip": ["File name"], "scene": ["Scene"], "take": ["Take"],
            "remark": ["Notes", "Comments DIT"],
        })  # fmt: skip
        said = {ColumnUse.ROLL: ["Scene"], ColumnUse.CLIP: ["Take"]}
        self.assertEqual(proposed_columns(head, said), said)
        self.assertEqual(proposed_columns(("Roll", "Clip"), said), {"roll": ["Roll"], "clip": ["Clip"]})

    def test_an_empty_roll_is_the_one_above_and_remarks_are_put_together(self):
        table = self.table("Roll,Clip,A,B\nA1,1,soft,late\n,2,,\n,,only words,\n")
        columns = {ColumnUse.ROLL: ["Roll"], ColumnUse.CLIP: ["Clip"], ColumnUse.REMARK: ["A", "B"]}
        self.assertEqual(list(lines_of(table, columns)), [
            ReportLine(2, "A1", "1", remark="soft; late"), ReportLine(3, "A1", "2"),
        ])  # fmt: skip

    def test_without_roll_and_clip_nothing_is_read(self):
        table = self.table("Roll,Clip\nA1,1\n")
        for columns, words in (
            ({ColumnUse.ROLL: ["Roll"]}, "which column names the clip"),
            ({ColumnUse.ROLL: ["Roll"], ColumnUse.CLIP: ["Reel"]}, "no column 'Reel'"),
        ):
            with self.assertRaisesRegex(TableRefused, words):
                list(lines_of(table, columns))
