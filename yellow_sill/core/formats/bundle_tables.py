"""The tables that a bundle repeats for a spreadsheet."""

from .bundle_parts import Bundle
from .csv import csv_text


def findings_csv(bundle: Bundle) -> str:
    head = [
        "finding",
        "title",
        "view",
        "panel",
        "grade",
        "why",
        "area_mm2",
        "u0_mm",
        "v0_mm",
        "u1_mm",
        "v1_mm",
        "found_on",
        "found_by",
        "repairs",
    ]
    repairs: dict[int, list[str]] = {number: [] for number in (finding.number for finding in bundle.findings)}
    for repair in bundle.repairs:
        for number in repair.findings:
            repairs.setdefault(number, []).append(f"R-{repair.number:02d}")
    return csv_text(
        head,
        (
            [
                f.number,
                f.title,
                f.view,
                f.panel,
                f.grade,
                f.why,
                f.area_mm2,
                *f.bounds_mm,
                f.found_on.isoformat(),
                f.found_by,
                " ".join(repairs[f.number]),
            ]
            for f in bundle.findings
        ),
    )


def costs_csv(bundle: Bundle, currency: str) -> str:
    head = [
        "repair",
        "bought_on",
        "supplier",
        "item",
        "kind",
        "quantity",
        "unit_price",
        "currency",
        "tax_rate_pct",
        "tax_included",
        "entered_by",
    ]
    lines = [("", cost) for cost in bundle.costs] + [
        (f"R-{repair.number:02d}", cost) for repair in bundle.repairs for cost in repair.costs
    ]
    single = [
        [
            code, c.bought_on.isoformat(), c.supplier, c.item, c.kind, c.quantity, c.unit_price, c.currency or currency, c.tax_rate,
            "yes" if c.tax_included else "no", c.by,
        ]
        for code, c in lines
    ]  # fmt: skip
    on_receipts = [
        [
            f"R-{c.repair:02d}" if c.repair else "", r.day.isoformat(), r.supplier, c.item, c.kind, c.quantity, c.unit_price, r.currency, c.tax_rate,
            "yes" if r.tax_in else "no", r.by,
        ]
        for r in bundle.money.receipts for c in r.lines
    ]  # fmt: skip
    return csv_text(head, [*single, *on_receipts])
