"""The dossier: what it says is in it whatever people write, and not a byte of it can be altered unseen."""

import io
import random
import zipfile
from dataclasses import replace
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import TestCase
from unittest.mock import patch

import pikepdf
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image
from pypdf import PdfReader

from yellow_sill.core.errors import BadField
from yellow_sill.core.formats import dossier
from yellow_sill.core.formats.dossier import (
    BUNDLE,
    code_of,
    contents_of,
    not_printed,
    verify,
    without_names,
    write_folder,
    write_pdf,
)
from yellow_sill.core.formats.letters import left_out, runs
from yellow_sill.core.formats.record_pdf import RecordSheet, Section, photo_bytes
from yellow_sill.core.formats.sketch import Sketch


def sketch():
    drawn = Sketch()
    drawn.stroke("cut", [(0, 0), (80, 0), (80, 40)], closed=True)
    return drawn


JPEG = bytes.fromhex("ffd8ffe000104a46494600010100000100010000ffdb004300" + "01" * 64 + "ffd9")
SHEET = RecordSheet(
    title="Dossier of Marrick Dunlin", cells=[("Body no.", "D2-04417")],
    sections=[
        Section("R-01 Sill", rows=[("Wren Askew", "Drilled through by mistake, filled by wren askew; 鑰匙 Łódź ёлка"), ("12 May", "Wrenched")], drawings=[("Cut", sketch())]),
        Section("Photos", photos=[(None, "lost")]),
    ],
)  # fmt: skip


def bytes_of(write, *asked):
    with TemporaryDirectory() as folder:
        path = Path(folder) / "dossier"
        write(asked[0], path, *asked[1:])
        return path.read_bytes()


MADE = {
    "pdf": bytes_of(write_pdf, SHEET, b"PK the bundle"),
    "folder": bytes_of(write_folder, SHEET, b"PK the bundle"),
}


class Dossier(TestCase):
    def test_what_was_made_is_whole_and_bears_its_code(self):
        code = code_of(contents_of(SHEET))
        for form, data in MADE.items():
            with self.subTest(form):
                told = verify(data)
                self.assertEqual((told.whole, told.code), (True, code))
                self.assertIn(code, str(told.words))
        self.assertEqual(
            MADE["pdf"], bytes_of(write_pdf, SHEET, b"PK the bundle"), "the same again is the same file"
        )
        reader = PdfReader(io.BytesIO(MADE["pdf"]))
        for page in reader.pages:
            self.assertIn(code[:9], page.extract_text())
        self.assertIn("ёлка", "".join(page.extract_text() for page in reader.pages))
        with pikepdf.open(io.BytesIO(MADE["pdf"])) as pdf:
            self.assertEqual(pdf.attachments[BUNDLE].get_file().read_bytes(), b"PK the bundle")
        page = zipfile.ZipFile(io.BytesIO(MADE["folder"])).read("dossier/index.html").decode()
        self.assertIn("鑰匙 Łódź ёлка", page)
        self.assertNotIn("<script", page)
        self.assertNotIn("http", page)

    def test_many_photos_are_laid_out_in_parts_and_lie_in_files(self):
        with TemporaryDirectory() as folder:
            sections = []
            for n in range(5):
                photo = Path(folder) / f"{n}.jpg"
                Image.new("RGB", (60, 40), (40 * n, 0, 0)).save(photo)
                sections += [
                    Section(f"R-{n:02d}", rows=[("State", "cut")], new_page=True),
                    Section("Photos", photos=[(photo, f"seen {n}")] * 2),
                ]
            sheet = RecordSheet(title="Dossier", cells=[], sections=sections)
            with patch.object(dossier, "PART_PHOTOS", 3):
                data = bytes_of(write_pdf, sheet)
            whole = bytes_of(write_pdf, sheet)
            in_memory = [
                replace(each, photos=[(photo_bytes(photo), words) for photo, words in each.photos])
                for each in sections
            ]
            self.assertEqual(contents_of(sheet), contents_of(replace(sheet, sections=in_memory)))
            with zipfile.ZipFile(io.BytesIO(bytes_of(write_folder, sheet))) as archive:
                self.assertEqual(sum(name.endswith(".jpg") for name in archive.namelist()), 10)
        self.assertTrue(verify(data).whole)
        texts = [page.extract_text() for page in PdfReader(io.BytesIO(data)).pages]
        self.assertEqual(texts, [page.extract_text() for page in PdfReader(io.BytesIO(whole)).pages])
        self.assertEqual(len(texts), 5, "each repair has a page of its own")
        for n, text in enumerate(texts):
            self.assertIn(f"R-{n:02d}", text)
            self.assertRegex(text, rf"Page\s+{n + 1}\b")

    @settings(max_examples=150, deadline=None)
    @given(
        st.integers(0, 1_000_000),
        st.sampled_from(["pdf", "folder"]),
        st.sampled_from(["byte", "cut", "more", "gone"]),
    )
    def test_whatever_is_altered_is_seen(self, seed, form, how):
        rng, data = random.Random(seed), bytearray(MADE[form])
        at = rng.randrange(len(data))
        if how == "byte":
            data[at] ^= 1 << rng.randrange(8)
        elif how == "cut":
            del data[at:]
        elif how == "gone":
            del data[at]
        else:
            data[at:at] = b"x"
        if bytes(data) == MADE[form]:
            return
        try:
            told = verify(bytes(data))
        except BadField:
            return
        self.assertFalse(told.whole)

    def test_nonsense_is_told(self):
        for data in (b"", b"hello", b"PK\x05\x06" + bytes(18)):
            with self.subTest(data):
                try:
                    self.assertFalse(verify(data).whole)
                except BadField as error:
                    self.assertIn("no dossier", str(error.message))

    def test_names_are_taken_out_as_whole_words(self):
        (first, _) = without_names(SHEET.sections, ["Wren Askew", "Wren", ""])
        self.assertEqual(first.rows[0][0], "–")
        self.assertIn("filled by –;", first.rows[0][1])
        self.assertEqual(first.rows[1][1], "Wrenched")
        self.assertEqual(without_names(SHEET.sections, []), SHEET.sections)

    def test_letters_that_no_font_has_are_told(self):
        odd = RecordSheet(title="x", cells=[], sections=[Section("a", rows=[("हि", "ok")])])
        self.assertEqual(not_printed(odd), ["ह", "ि"])
        self.assertEqual(left_out("Grüße 鑰匙 한국 שלום"), [])

    @given(st.text(max_size=40))
    def test_any_text_can_be_printed(self, text):
        for font, piece in runs(text, "Helvetica"):
            if font == "Helvetica":
                piece.encode("cp1252")
