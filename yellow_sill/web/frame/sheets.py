"""Paper sheets in the reader's units and terms."""

from dataclasses import replace

from yellow_sill.core.formats.record_pdf import RecordSheet

from .units import spoken


def sheet_said(sheet: RecordSheet) -> RecordSheet:
    """The sheet with every message in it said; what a person wrote is no message and stays."""
    sections = [
        replace(
            section,
            head=spoken(section.head),
            rows=[(spoken(label), spoken(text)) for label, text in section.rows],
            drawings=[(spoken(caption), drawing) for caption, drawing in section.drawings],
            photos=[(data, spoken(caption)) for data, caption in section.photos],
        )
        for section in sheet.sections
    ]
    return replace(sheet, title=spoken(sheet.title), sections=sections)
