"""Pictures are written anew from their pixels: nothing that the camera or an editor put beside them stays."""

import io

from django.test import SimpleTestCase
from PIL import Image
from PIL.PngImagePlugin import PngInfo

from yellow_sill.web.frame.pictures import cleaned_picture, is_plain_jpeg

SECRET = b"51.4779 N, taken by Wren"


def drawn(kind: str, **extra) -> bytes:
    stream = io.BytesIO()
    Image.new("RGB", (60, 40), (150, 90, 60)).save(stream, kind, **extra)
    return stream.getvalue()


def with_gps() -> Image.Exif:
    exif = Image.Exif()
    exif[0x010E] = SECRET.decode()
    exif.get_ifd(0x8825).update({1: "N", 2: (51.0, 28.0, 40.0)})
    return exif


def behind_comments() -> bytes:
    """A JPEG whose Exif lies behind 130 kB of comments."""
    plain = drawn("JPEG", exif=with_gps(), comment=SECRET)
    text = SECRET.ljust(65_000, b".")
    comment = b"\xff\xfe" + (len(text) + 2).to_bytes(2, "big") + text
    return plain[:2] + comment * 2 + plain[2:] + SECRET


def in_a_png() -> bytes:
    words = PngInfo()
    words.add_text("Comment", SECRET.decode())
    words.add_itxt("Description", SECRET.decode())
    return drawn("PNG", pnginfo=words, exif=with_gps())


class FromPixelsOnly(SimpleTestCase):
    def test_nothing_but_the_picture_is_kept(self):
        for name, data in (
            ("JPEG", behind_comments()),
            ("PNG", in_a_png()),
            ("WebP", drawn("WEBP", exif=with_gps(), xmp=SECRET)),
        ):
            with self.subTest(name):
                self.assertIn(SECRET, data)
                kept, width, height = cleaned_picture(data)
                self.assertEqual((width, height), (60, 40))
                self.assertTrue(is_plain_jpeg(kept))
                self.assertNotIn(SECRET, kept)
                self.assertFalse(is_plain_jpeg(data))
                self.assertEqual(len(Image.open(io.BytesIO(kept)).getexif()), 0)
