"""Every letter that people write, on paper: the base fonts have Latin ones alone, two more have most others; what none has is told by its number.

Right-to-left scripts are joined and laid out by well-known packages.
"""

import unicodedata
from functools import cache
from pathlib import Path
from xml.sax.saxutils import escape

from arabic_reshaper import reshape
from bidi.algorithm import get_display
from reportlab import rl_config
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

# Pictures go into a file as they are: written out in letters they take a quarter more room and most of the time.
rl_config.useA85 = 0
_HERE = Path(__file__).parent / "fonts"
#: Fonts for what the base fonts lack, in the order in which they are asked: Latin, Greek, Cyrillic, Hebrew, Arabic and more; Chinese, Japanese, Korean.
_MORE = {"Wide": "DejaVuSans.ttf", "East": "DroidSansFallback.ttf"}


@cache
def _faces() -> dict[str, frozenset[int]]:
    """The further fonts by name with the letters that they have; they are read once."""
    found = {}
    for name, file in _MORE.items():
        font = TTFont(name, str(_HERE / file))
        pdfmetrics.registerFont(font)
        found[name] = frozenset(font.face.charToGlyph)
    return found


@cache
def font_of(letter: str, base: str) -> str | None:
    """The font in which a letter is printed; None where none has it. Args: base: the font of the text, one of the built-in ones."""
    if letter in "\t\n\u00a0" or (letter.isascii() and letter.isprintable()):
        return base
    try:
        letter.encode("cp1252")
        return base
    except UnicodeEncodeError:
        return next((name for name, letters in _faces().items() if ord(letter) in letters), None)


def runs(text: str, base: str) -> list[tuple[str, str]]:
    """A text as it is printed: pieces, each with its font. A letter that no font has is printed as its number, [U+1F600].

    >>> runs("Türgriff 鑰", "Helvetica")
    [('Helvetica', 'Türgriff '), ('East', '鑰')]
    """
    found: list[tuple[str, str]] = []
    for letter in _as_read(unicodedata.normalize("NFC", text)):
        font = font_of(letter, base)
        if font is None and unicodedata.category(letter) in ("Cf", "Mn"):
            continue  # joiners, directions and selectors that nothing shows
        piece = letter if font else f"[U+{ord(letter):04X}]"
        name = font or base
        if found and found[-1][0] == name:
            found[-1] = (name, found[-1][1] + piece)
        else:
            found.append((name, piece))
    return found


def left_out(text: str) -> list[str]:
    """The letters of a text that no font has, each once."""
    letters = dict.fromkeys(unicodedata.normalize("NFC", text))
    return [
        each
        for each in letters
        if font_of(each, "Helvetica") is None and unicodedata.category(each) not in ("Cf", "Mn", "Cc")
    ]


def _as_read(text: str) -> str:
    """A text in the order in which its letters stand on a line."""
    if not any(unicodedata.bidirectional(letter) in ("R", "AL", "RLE", "RLO") for letter in text):
        return text
    return str(get_display(reshape(text)))


def markup(text: str, base: str = "Helvetica") -> str:
    """A text for a paragraph: marks of its own escaped, pieces in other fonts marked."""
    return "".join(
        escape(piece) if font == base else f'<font name="{font}">{escape(piece)}</font>'
        for font, piece in runs(text, base)
    )


def width_of(text: str, font: str, size: float) -> float:
    """How wide a text is printed, points."""
    return sum(pdfmetrics.stringWidth(piece, name, size) for name, piece in runs(text, font))


class Page(Canvas):
    """A canvas on which every string is written in the fonts that have its letters."""

    def drawString(self, x, y, text, *args, **kwargs):
        font, size = self._fontname, self._fontsize
        pieces = runs(str(text), font)
        if len(pieces) == 1 and pieces[0][0] == font:
            super().drawString(x, y, pieces[0][1], *args, **kwargs)
            return
        for name, piece in pieces:
            self.setFont(name, size)
            super().drawString(x, y, piece, *args, **kwargs)
            x += pdfmetrics.stringWidth(piece, name, size)
        self.setFont(font, size)

    def drawCentredString(self, x, y, text, *args, **kwargs):
        self.drawString(x - width_of(str(text), self._fontname, self._fontsize) / 2, y, text, *args, **kwargs)

    def drawRightString(self, x, y, text, *args, **kwargs):
        self.drawString(x - width_of(str(text), self._fontname, self._fontsize), y, text, *args, **kwargs)
