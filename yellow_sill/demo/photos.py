"""Photos of the demo: the arch of the rear quarter from found to protected, drawn as a camera would see it, and a few that nobody has sorted."""

import io
import math
import random
from datetime import date, datetime, time, timedelta

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image, ImageDraw, ImageFilter

from yellow_sill.core.homography import homography
from yellow_sill.web.logbook.models import Photo
from yellow_sill.web.record.pair_services import keep_pair
from yellow_sill.web.record.photo_services import sort_by_day, take_in
from yellow_sill.web.repairs.models import Repair
from yellow_sill.web.shells.models import Vehicle

from .made_up import OWNER

WIDTH, HEIGHT = 1200, 900
#: Things that are on the metal in every photo: two trim holes, the fuel flap's corner, a mark by the seam.
SEEN = ((180.0, 250.0), (1010.0, 240.0), (930.0, 90.0), (1060.0, 640.0))
#: Where each photo was taken from, as pixels of the scene that the corners of the picture show.
CAMERAS = {
    "found": ((0, 0), (1200, 0), (1200, 900), (0, 900)),
    "cut": ((30, -20), (1190, 30), (1230, 910), (-10, 880)),
    "welded": ((-30, 10), (1210, -15), (1180, 900), (20, 930)),
    "protected": ((60, 30), (1230, -10), (1190, 930), (20, 870)),
}
PAINT, SHADE, DARK, RUST, PRIMER, STEEL = (92, 124, 138), (70, 98, 112), (26, 28, 30), (128, 66, 38), (140, 70, 58), (170, 176, 180)  # fmt: skip
_PIECE = [(640, 560), (700, 470), (860, 500), (900, 640), (850, 720), (740, 715), (690, 640)]


def arch(state: str) -> bytes:
    """The rear arch in a state of the work, as a JPEG of a camera that stood roughly where it stood before."""
    rng = random.Random(4)
    scene = Image.new("RGB", (WIDTH + 400, HEIGHT + 400), (196, 192, 182))
    draw = ImageDraw.Draw(scene)
    at = lambda points: [(x + 200, y + 200) for x, y in points]  # noqa: E731
    draw.rectangle([0, HEIGHT + 60, WIDTH + 400, HEIGHT + 400], fill=(120, 116, 108))
    draw.polygon(at([(-200, 150), (1400, 110), (1400, 740), (-200, 760)]), fill=PAINT)
    for y in range(110, 300):
        shade = tuple(int(part + (255 - part) * 0.28 * (300 - y) / 190) for part in PAINT)
        draw.line(at([(-200, y + 40), (1400, y)]), fill=shade)
    draw.line(at([(-200, 395), (1400, 370)]), fill=SHADE, width=9)
    draw.line(at([(-200, 403), (1400, 378)]), fill=(120, 150, 162), width=3)
    draw.ellipse([200 + 150, 200 + 470, 200 + 770, 200 + 1090], fill=DARK)
    draw.arc([200 + 132, 200 + 452, 200 + 788, 200 + 1108], 180, 360, fill=SHADE, width=14)
    draw.rectangle(at([(930, 90), (1080, 200)]), outline=SHADE, width=5)
    for x, y in SEEN[:2]:
        draw.ellipse([x + 190, y + 190, x + 210, y + 210], fill=DARK)
    draw.line(at([(1040, 640), (1080, 640)]), fill=(230, 226, 210), width=6)
    draw.line(at([(1060, 620), (1060, 660)]), fill=(230, 226, 210), width=6)
    _piece(draw, at, state, rng)
    return _seen_by(scene.filter(ImageFilter.GaussianBlur(1.6)), CAMERAS[state])


def _piece(draw: ImageDraw.ImageDraw, at, state: str, rng: random.Random) -> None:
    """What is at the rear foot of the arch: rust, a hole, a patch with its seam, primer."""
    middle = (790, 600)
    if state == "found":
        for size, colour in ((1.05, (156, 104, 74)), (0.85, RUST), (0.45, (70, 44, 32))):
            points = [
                (
                    middle[0] + (x - middle[0]) * size * rng.uniform(0.85, 1.1),
                    middle[1] + (y - middle[1]) * size * rng.uniform(0.85, 1.1),
                )
                for x, y in _PIECE
            ]
            draw.polygon(at(points), fill=colour)
        draw.polygon(at([(770, 590), (820, 575), (838, 630), (790, 650)]), fill=DARK)
        for _ in range(160):
            turn, far = rng.uniform(0, 2 * math.pi), rng.uniform(40, 210)
            x, y = middle[0] + far * math.cos(turn), middle[1] + 0.8 * far * math.sin(turn)
            draw.ellipse(
                [*at([(x, y)])[0], x + 200 + rng.uniform(2, 7), y + 200 + rng.uniform(2, 7)], fill=RUST
            )
        return
    draw.polygon(at(_PIECE), fill={"cut": (18, 18, 20), "welded": STEEL, "protected": PRIMER}[state])
    if state == "cut":
        draw.line(at([(660, 640), (880, 600)]), fill=(74, 70, 66), width=16)
        draw.line(at([*_PIECE, _PIECE[0]]), fill=STEEL, width=5)
    if state == "welded":
        for (ax, ay), (bx, by) in zip(_PIECE, [*_PIECE[1:], _PIECE[0]], strict=True):
            for n in range(9):
                x, y = ax + (bx - ax) * n / 9, ay + (by - ay) * n / 9
                draw.ellipse([x + 193, y + 193, x + 207, y + 207], fill=(112, 108, 116))


def _seen_by(scene: Image.Image, corners: tuple[tuple[int, int], ...]) -> bytes:
    """The picture of a camera. Args: corners: of the scene that its corners show."""
    way = _way(corners)
    shift = np.array([[1, 0, 200], [0, 1, 200], [0, 0, 1]]) @ way
    figures = (shift / shift[2, 2]).flatten()[:8]
    picture = scene.transform(
        (WIDTH, HEIGHT), Image.Transform.PERSPECTIVE, tuple(figures), Image.Resampling.BICUBIC
    )
    stream = io.BytesIO()
    picture.save(stream, "JPEG", quality=86)
    return stream.getvalue()


def _way(corners: tuple[tuple[int, int], ...]) -> np.ndarray:
    """From pixels of a picture to pixels of the scene."""
    own = np.array([(0, 0), (WIDTH, 0), (WIDTH, HEIGHT), (0, HEIGHT)], dtype=float)
    return homography(own, np.array(corners, dtype=float))


def _in_picture(state: str) -> list[list[float]]:
    """Where the things that are on the metal lie in a photo, px."""
    back = np.linalg.inv(_way(CAMERAS[state]))
    seen = np.column_stack([np.array(SEEN), np.ones(len(SEEN))]) @ back.T
    return [[float(u), float(v)] for u, v in seen[:, :2] / seen[:, 2:]]


def add_photos(vehicle: Vehicle, quarter: Repair, today: date) -> None:
    """The arch from found to protected, with its places; before and after; a heap of a summer's evening, some of it to be asked about."""
    view = vehicle.views.get(name="left")
    told = (
        ("found", 192, "The arch as it was found"),
        ("cut", 184, "Cut out, edges clean"),
        ("welded", 172, "Welded"),
        ("protected", 160, "Primed, both faces"),
    )
    made: dict[str, Photo] = {}
    for state, ago, caption in told:
        take_in(vehicle, [SimpleUploadedFile("drawn.jpg", arch(state), "image/jpeg")], by=OWNER)
        photo = vehicle.photos.latest("pk")
        photo.repair, photo.stage, photo.sorted_by, photo.caption = quarter, state, "hand", caption
        photo.taken_on, photo.seen_from, photo.view, photo.at = (
            today - timedelta(ago),
            "left",
            view,
            [2540.0, 620.0],
        )
        photo.subject, photo.subject_of = "panel", "L-QTR"
        photo.save()
        made[state] = photo
    points = [
        [*before, *after]
        for before, after in zip(_in_picture("found"), _in_picture("protected"), strict=True)
    ]
    keep_pair(vehicle, made["found"], made["protected"], points, by=OWNER)
    take_in(
        vehicle,
        [
            SimpleUploadedFile(f"heap-{n}.jpg", data, "image/jpeg")
            for n, data in enumerate(_heap(vehicle, today))
        ],
        by=OWNER,
    )
    sort_by_day(vehicle, today=today, by=OWNER)


def _heap(vehicle: Vehicle, today: date) -> list[bytes]:
    """Photos as a camera wrote them: of days of work, of a day of which nothing is written down, and one without a clock."""
    from .pictures import drawn_picture

    days = sorted(set(vehicle.work_entries.exclude(repair=None).values_list("worked_on", flat=True)))
    when: list[datetime | None] = [
        datetime.combine(day, time(19, 10 + 3 * n)) for n, day in enumerate(days[-4:])
    ]
    when += [datetime.combine(today - timedelta(days=240), time(11, 5)), None]
    found = []
    for n, at in enumerate(when):
        with Image.open(io.BytesIO(drawn_picture(40 + n))) as image:
            exif = image.getexif()
            if at:
                exif.get_ifd(0x8769)[0x9003] = f"{at:%Y:%m:%d %H:%M:%S}"
            stream = io.BytesIO()
            image.save(stream, "JPEG", quality=80, exif=exif)
            found.append(stream.getvalue())
    return found
