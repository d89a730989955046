"""The dossier: what is handed over with a vehicle, as one PDF or as a folder that opens without a script, with a code over all that it says."""

import hashlib
import io
import json
import re
import zipfile
import zlib
from collections.abc import Iterable, Sequence
from contextlib import ExitStack
from dataclasses import dataclass, replace
from html import escape
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

import pikepdf

from ..errors import BadField
from ..said import Said
from .letters import left_out
from .record_pdf import Photo, RecordSheet, Section, photo_bytes, record_parts
from .svg import svg_parts

#: What stands at the end of a sealed file, before the sum over every byte before that.
SEAL = b"%yellow-sill-seal sha256="
#: What the file in a dossier is called that says again what its code is over.
CONTENTS, BUNDLE = "contents.json", "bundle.zip"
SUMS = "SUMS.txt"
#: The pages of a PDF are laid out in parts of about so many photos: all at once fill the memory.
PART_PHOTOS = 40
#: A file over this is no dossier, bytes.
MOST_BYTES = 600_000_000
_CODE, _SUM = 16, 64


@dataclass(frozen=True, slots=True, kw_only=True)
class Verified:
    """Whether a dossier is as it was made, in a sentence, and the code that must stand on its pages; empty where it has none."""

    whole: bool
    words: Said
    code: str = ""


def without_names(sections: Sequence[Section], names: Iterable[str]) -> list[Section]:
    """The sections with the names of people taken out wherever they are written as whole words."""
    every = sorted({name.strip() for name in names if name.strip()}, key=len, reverse=True)
    if not every:
        return list(sections)
    pattern = re.compile(rf"(?<!\w)(?:{'|'.join(map(re.escape, every))})(?!\w)", re.IGNORECASE)
    out = lambda text: pattern.sub("–", text)  # noqa: E731
    return [
        replace(
            section, head=out(section.head), rows=[(out(a), out(b)) for a, b in section.rows],
            table=[[out(cell) for cell in row] for row in section.table], drawings=[(out(words), drawn) for words, drawn in section.drawings],
            photos=[(data, out(words)) for data, words in section.photos],
        )
        for section in sections
    ]  # fmt: skip


def contents_of(sheet: RecordSheet) -> bytes:
    """All that a dossier says, in one order: words, tables, drawings as their own lines, photos by the sum of their bytes."""
    told: dict[str, Any] = {
        "title": sheet.title, "cells": [list(cell) for cell in sheet.cells], "foot": sheet.foot,
        "sections": [
            {
                "head": section.head, "rows": [list(row) for row in section.rows], "table": section.table,
                "drawings": [[words, hashlib.sha256(svg_parts(drawn)[1].encode()).hexdigest()] for words, drawn in section.drawings],
                "photos": [[words, hashlib.sha256(photo_bytes(photo)).hexdigest() if photo else ""] for photo, words in section.photos],
            }
            for section in sheet.sections
        ],
    }  # fmt: skip
    return json.dumps(told, ensure_ascii=False, sort_keys=True, indent=1).encode()


def code_of(contents: bytes) -> str:
    """The code over what a dossier says, in groups that can be read aloud.

    >>> code_of(b"")
    'E3B0-C442-98FC-1C14'
    """
    sum_ = hashlib.sha256(contents).hexdigest().upper()[:_CODE]
    return "-".join(sum_[at : at + 4] for at in range(0, _CODE, 4))


def not_printed(sheet: RecordSheet) -> list[str]:
    """The letters of a dossier that no font of ours has; they are printed as their numbers."""
    texts = [sheet.title, *(text for section in sheet.sections for pair in section.rows for text in pair)]
    return left_out("".join(texts))


def write_pdf(sheet: RecordSheet, whole: Path, bundle: bytes | None = None) -> str:
    """Write the dossier as a sealed PDF, its code on each page.

    Args: sheet: what it says; whole: where it is written; bundle: the vehicle's bundle, put inside. What it says, and the bundle, are attached, so
    that the next person's machine can read them.
    Returns: its code. Raises: OSError.
    """
    contents = contents_of(sheet)
    code = code_of(contents)
    with TemporaryDirectory() as folder, ExitStack() as opened:
        parts, coded = [], replace(sheet, cells=[*sheet.cells, ("Code", code)])
        for n, data in enumerate(record_parts(coded, PART_PHOTOS)):
            path = Path(folder) / f"{n}.pdf"
            path.write_bytes(data)
            parts.append(opened.enter_context(pikepdf.open(path)))
        pdf, *further = parts
        for part in further:
            pdf.pages.extend(part.pages)
        files = {CONTENTS: (contents, "application/json")}
        if bundle is not None:
            files[BUNDLE] = (bundle, "application/zip")
        for name, (data, kind) in files.items():
            pdf.attachments[name] = pikepdf.AttachedFileSpec(pdf, data, filename=name, mime_type=kind)
        pdf.docinfo["/Keywords"] = f"code {code}"
        pdf.save(whole, deterministic_id=True)
    with whole.open("r+b") as file:
        sum_ = hashlib.file_digest(file, "sha256").hexdigest()
        file.write(SEAL + sum_.encode() + b"\n")
    return code


def write_folder(sheet: RecordSheet, whole: Path, bundle: bytes | None = None) -> str:
    """Write the dossier as a zip of a folder: one page that needs no script, its photos, what it says, the sums of all its files.

    Args, Returns, Raises: as `write_pdf`.
    """
    contents = contents_of(sheet)
    code = code_of(contents)
    files: dict[str, Photo] = {CONTENTS: contents}
    body = [_html_section(section, files, n) for n, section in enumerate(sheet.sections)]
    files["index.html"] = _PAGE.format(
        title=escape(sheet.title), code=code, foot=escape(sheet.foot), body="".join(body),
        cells="".join(f"<div><dt>{escape(label)}</dt><dd>{escape(value)}</dd></div>" for label, value in sheet.cells),
    ).encode()  # fmt: skip
    if bundle is not None:
        files[BUNDLE] = bundle
    sums = "".join(
        f"{hashlib.sha256(photo_bytes(file)).hexdigest()}  {name}\n" for name, file in sorted(files.items())
    )
    with zipfile.ZipFile(whole, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.comment = SEAL + b"0" * _SUM
        for name, file in [*sorted(files.items()), (SUMS, sums.encode())]:
            kept = zipfile.ZIP_STORED if name.endswith((".jpg", ".zip")) else zipfile.ZIP_DEFLATED
            archive.writestr(
                zipfile.ZipInfo(f"dossier/{name}", (2026, 1, 1, 0, 0, 0)), photo_bytes(file), kept
            )
    with whole.open("r+b") as zipped:
        zipped.truncate(whole.stat().st_size - _SUM)
        sum_ = hashlib.file_digest(zipped, "sha256").hexdigest()
        zipped.write(sum_.encode())
    return code


_PAGE = """<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width,initial-scale=1">
<title>{title}</title><style>
body{{font:16px/1.5 system-ui,sans-serif;color:#14181b;background:#f6f8f8;margin:0 auto;max-width:60rem;padding:1rem}}
h1{{font-size:1.6rem;margin:.5rem 0}} h2{{font-size:1.15rem;margin:1.6rem 0 .3rem;border-top:2px solid #14181b;padding-top:.6rem}}
dl.cells{{display:flex;flex-wrap:wrap;border:2px solid #14181b;margin:0}} dl.cells div{{padding:.3rem .8rem;border-right:1px solid #14181b}}
dt{{font-size:.75rem}} dd{{margin:0;font-family:monospace}} table{{border-collapse:collapse;width:100%}}
td,th{{text-align:left;vertical-align:top;padding:.2rem .6rem .2rem 0;border-bottom:1px solid #bfc8cc}} th{{white-space:nowrap}}
figure{{display:inline-block;margin:.5rem 1rem .5rem 0;max-width:28rem}} figure svg,figure img{{width:100%;height:auto;max-height:24rem}}
figcaption{{font-size:.85rem}} footer{{margin-top:2rem;font-size:.85rem}}
</style></head><body><h1>{title}</h1><dl class="cells">{cells}<div><dt>Code</dt><dd>{code}</dd></div></dl>
{body}<footer>{foot}</footer></body></html>
"""


def _html_section(section: Section, files: dict[str, Photo], n: int) -> str:
    said = lambda text: escape(text).replace("\n", "<br>")  # noqa: E731
    told = [f"<h2>{said(section.head)}</h2>"]
    if section.rows:
        told.append(
            "<table>"
            + "".join(f"<tr><th>{said(a)}</th><td>{said(b)}</td></tr>" for a, b in section.rows)
            + "</table>"
        )
    if section.table:
        head, *rows = section.table
        told.append("<table><tr>" + "".join(f"<th>{said(cell)}</th>" for cell in head) + "</tr>")
        told += ["<tr>" + "".join(f"<td>{said(cell)}</td>" for cell in row) + "</tr>" for row in rows]
        told.append("</table>")
    for words, drawn in section.drawings:
        view, body = svg_parts(drawn)
        told.append(
            f'<figure><svg viewBox="{view}" role="img" aria-label="{said(words)}">{body}</svg><figcaption>{said(words)}</figcaption></figure>'
        )
    for k, (photo, words) in enumerate(section.photos):
        if photo is None:
            told.append(f"<p>{said(words)}: the file of this photo is missing.</p>")
            continue
        name = f"photos/{n:03d}-{k:03d}.jpg"
        files[name] = photo
        told.append(
            f'<figure><img src="{name}" alt="{said(words)}" loading="lazy"><figcaption>{said(words)}</figcaption></figure>'
        )
    return "".join(told)


def verify(data: bytes) -> Verified:
    """Whether a dossier is still as it was made: every byte of it.

    A sum finds what was altered or cut short, by accident or lightly; it does not tell who made it: compare its code with the one you were given.

    Raises: BadField: no dossier at all.
    """
    if len(data) > MOST_BYTES:
        raise BadField("This file is too large for a dossier.", "file", "Was it the right one?")
    if data[:5] == b"%PDF-":
        return _pdf(data)
    if data[:2] == b"PK":
        return _folder(data)
    raise BadField(
        "This is no dossier: neither a PDF nor a zip.", "file", "Choose the file as you were given it."
    )


def _pdf(data: bytes) -> Verified:
    at = data.rfind(SEAL)
    if at < 0:
        return Verified(
            whole=False,
            words=Said(
                "This PDF bears no seal: it is no dossier, or it was cut short or saved anew by another program."
            ),
        )
    sum_ = hashlib.sha256(data[:at]).hexdigest().encode()
    if data[at:] != SEAL + sum_ + b"\n":
        return Verified(
            whole=False,
            words=Said("This dossier was altered after it was made: its sum does not fit its bytes."),
        )
    try:
        with pikepdf.open(io.BytesIO(data[:at])) as pdf:
            contents = pdf.attachments[CONTENTS].get_file().read_bytes()
            keywords = str(pdf.docinfo.get("/Keywords", ""))
    except (pikepdf.PdfError, KeyError):
        return Verified(
            whole=False, words=Said("This PDF is sealed, but what its code is over is not in it.")
        )
    return _judged(contents, keywords.removeprefix("code "))


def _folder(data: bytes) -> Verified:
    if data[-_SUM - len(SEAL) : -_SUM] != SEAL:
        return Verified(
            whole=False,
            words=Said("This zip bears no seal: it is no dossier, or it was cut short or packed anew."),
        )
    if data[-_SUM:] != hashlib.sha256(data[:-_SUM]).hexdigest().encode():
        return Verified(
            whole=False,
            words=Said("This dossier was altered after it was made: its sum does not fit its bytes."),
        )
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            contents, page = (_read(archive, f"dossier/{name}") for name in (CONTENTS, "index.html"))
    except (
        zipfile.BadZipFile,
        KeyError,
        OSError,
        ValueError,
        NotImplementedError,
        RuntimeError,
        EOFError,
        zlib.error,
    ):
        return Verified(
            whole=False, words=Said("This zip is sealed, but what its code is over is not in it.")
        )
    shown = re.search(r"<dt>Code</dt><dd>([0-9A-F-]+)</dd>", page.decode(errors="replace"))
    return _judged(contents, shown[1] if shown else "")


def _read(archive: zipfile.ZipFile, name: str) -> bytes:
    """Raises: KeyError; ValueError: it claims to be larger than a dossier may be."""
    if archive.getinfo(name).file_size > MOST_BYTES:
        raise ValueError(name)
    return archive.read(name)


def _judged(contents: bytes, shown: str) -> Verified:
    code = code_of(contents)
    if shown != code:
        return Verified(
            whole=False, words=Said("Its code and what it says do not belong together: it was altered.")
        )
    words = Said(
        "Nothing of it was altered since it was made. Its code is {code}; the same must stand on every page and is the one you were given.",
        code=code,
    )
    return Verified(whole=True, words=words, code=code)
