"""Pictures for the demo, drawn by number."""

import io
import math
import random

from PIL import Image, ImageDraw, ImageFilter

#: Where the drawn card and hole of ``picture_with_card`` are, and where two marks lie on the floor pan.
CARD_TRACE = {
    "reference": [[566, 60], [868, 72], [862, 284], [560, 268]], "size_mm": [148.0, 105.0], "distances_mm": None,
    "trace": [[250, 260], [320, 210], [430, 215], [500, 270], [490, 360], [410, 420], [300, 400], [245, 330]], "marks": [[180, 560], [720, 560]], "on_panel": [[770, 540], [1043, 540]], "seen_from": "drawn",
}  # fmt: skip


def picture_with_card(seed: int) -> bytes:
    """A made-up photo of a hole with a white card beside it."""
    with Image.open(io.BytesIO(drawn_picture(seed))) as image:
        draw = ImageDraw.Draw(image)
        draw.polygon([tuple(p) for p in CARD_TRACE["reference"]], fill=(238, 238, 232), outline=(30, 30, 30))
        draw.polygon([tuple(p) for p in CARD_TRACE["trace"]], fill=(40, 32, 28))
        for u, v in CARD_TRACE["marks"]:
            draw.ellipse([u - 7, v - 7, u + 7, v + 7], fill=(20, 20, 20))
        stream = io.BytesIO()
        image.save(stream, "JPEG", quality=86)
        return stream.getvalue()


def drawn_part(name: str) -> bytes:
    """A made-up picture of a part that leans on a wall, drawn and not photographed: a door or a bonnet."""
    image = Image.new("RGB", (900, 560), (206, 208, 204))
    draw = ImageDraw.Draw(image)
    draw.rectangle([0, 430, 900, 560], fill=(150, 146, 138))
    metal, dark, fold = (96, 122, 128), (40, 50, 54), (70, 92, 98)
    if "door" in name.lower():
        draw.polygon(
            [(250, 470), (246, 250), (330, 90), (560, 80), (640, 240), (650, 470)], fill=metal, outline=dark
        )
        draw.polygon([(300, 240), (352, 116), (545, 108), (600, 236)], fill=(190, 200, 204), outline=dark)
        draw.rectangle([580, 270, 630, 284], fill=(60, 66, 70))
        draw.line([(250, 360), (648, 352)], fill=fold, width=5)
    else:
        draw.polygon([(190, 470), (250, 110), (650, 110), (710, 470)], fill=metal, outline=dark)
        for top, foot in ((450, 450), (300, 262), (600, 638)):
            draw.line([(top, 112), (foot, 468)], fill=fold, width=5)
    stream = io.BytesIO()
    image.save(stream, "JPEG", quality=85)
    return stream.getvalue()


def drawn_picture(seed: int, width: int = 900, height: int = 640) -> bytes:
    """A made-up picture: a grey panel, a swage and a rusty hole, drawn and not photographed."""
    rng = random.Random(seed)
    image = Image.new("RGB", (width, height), (176, 184, 188))
    draw = ImageDraw.Draw(image)
    for y in range(height):
        shade = 150 + int(50 * y / height)
        draw.line([(0, y), (width, y)], fill=(shade, shade + 6, shade + 8))
    draw.rectangle([0, height * 0.62, width, height * 0.65], fill=(128, 136, 140))
    for size, colour in ((210, (150, 96, 70)), (160, (120, 66, 44)), (95, (44, 34, 30))):
        points = []
        for i in range(26):
            r = size * rng.uniform(0.7, 1.1)
            step = i / 26 * 6.2832
            points.append(
                (width * 0.45 + r * 1.3 * math.cos(step), height * 0.45 + r * 0.8 * math.cos(step - 1.5708))
            )
        draw.polygon(points, fill=colour)
    for _ in range(420):
        x, y, r = rng.uniform(0, width), rng.uniform(0, height), rng.uniform(1, 4)
        draw.ellipse(
            [x - r, y - r, x + r, y + r], fill=(140, 90, 66) if rng.random() < 0.5 else (190, 197, 200)
        )
    stream = io.BytesIO()
    image.filter(ImageFilter.GaussianBlur(2)).save(stream, "JPEG", quality=85)
    return stream.getvalue()
