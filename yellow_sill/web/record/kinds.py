"""What of a vehicle's records is found by its words and told in order: each kind, how it is headed, its day, its page and its place on the shell."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from django.apps import apps
from django.db.models import Model, QuerySet
from django.urls import reverse

from yellow_sill.core.repairs.hours import clock
from yellow_sill.core.repairs.sheets import SHEET_TO_DO
from yellow_sill.core.survey.grading import EVIDENCE_WORDS
from yellow_sill.web.survey.models import finding_address

Of = Callable[[Any], Any]
#: Of what has no place.
NOWHERE: Of = lambda each: None  # noqa: E731


@dataclass(frozen=True, slots=True, kw_only=True)
class Kind:
    """A kind of record.

    Attributes:
        model: its label; name: what it is called, several of it; path: the way to its vehicle; texts: fields whose words are found besides the head;
        head: its heading; day: of what it tells; repair: its repair or None; panel: its panel or None; outline: its place in the panel's view, or None;
        own_place: its view's key and its one point there, for what lies on no panel;
        page: where it is; read: what is read with it; only: which of them hold words at all; line: whether it is told in the time line.
    """

    model: str
    name: str
    path: str
    texts: tuple[str, ...] = ()
    head: Of
    day: Of = lambda each: None
    repair: Of = lambda each: None
    panel: Of = lambda each: None
    outline: Of = NOWHERE
    own_place: Of = NOWHERE
    page: Of
    read: tuple[str, ...] = ()
    only: tuple[tuple[str, Any], ...] = ()
    line: bool = True

    @property
    def placed(self) -> bool:
        """Whether such records have a place of their own on the shell."""
        return self.own_place is not NOWHERE or self.outline is not NOWHERE

    def at(self, row: Any) -> tuple[int, list] | None:
        """The view of a record by its key, and its outline there or its one point; None where it has none."""
        panel, outline = self.panel(row), self.outline(row)
        if panel and outline:
            return panel.view_id, outline
        own: tuple[int, list] | None = self.own_place(row)
        return own

    @property
    def record(self) -> type[Model]:
        return apps.get_model(self.model)

    def of(self, vehicle_id: int) -> QuerySet:
        """All of a vehicle."""
        rows: QuerySet = self.record._base_manager.filter(**{self.path: vehicle_id}, **dict(self.only))
        return rows.select_related(*self.read)


def _numbered(name: str) -> Of:
    return lambda each: reverse(name, args=[each.vehicle_id, each.number])


def _listed(name: str) -> Of:
    return lambda each: reverse(name, args=[each.vehicle_id])


def _log(each: Any) -> str:
    return reverse("logbook:log", args=[each.repair.vehicle_id, each.repair.number])


def _of_repair(name: str, repair: Of) -> Of:
    return lambda each: reverse(name, args=[repair(each).vehicle_id, repair(each).number])


def _panel_page(panel: Of) -> Of:
    return lambda each: reverse("survey:panel", args=[panel(each).view.vehicle_id, panel(each).pk])


_MINE: Of = lambda each: each.repair  # noqa: E731
_CUT: Of = lambda each: each.cut.repair  # noqa: E731
_SHEET: Of = lambda each: each.cut.panel  # noqa: E731
_HOLE: Of = lambda each: each.cut.outline  # noqa: E731
_OF_CUT = {
    "repair": _CUT, "panel": _SHEET, "outline": _HOLE, "path": "cut__repair__vehicle", "read": ("cut__repair", "cut__panel"),
}  # fmt: skip


def _photo_head(photo: Any) -> str:
    return f"{photo.repair.code if photo.repair else ''} {photo.caption or 'Photo'}".strip()


def _photo_page(photo: Any) -> str:
    return f"{reverse('record:photos', args=[photo.vehicle_id])}?photo={photo.pk}"


def _own(each: Any) -> tuple[int, list] | None:
    """Where something was tapped on a view."""
    return (each.view_id, [each.at]) if each.view_id and each.at else None


def _money(each: Any) -> str:
    return f"{each.unit_price:.2f} {each.currency}".strip()


_SURVEY = (
    Kind(
        model="survey.Finding", name="findings", path="vehicle", texts=("title", "note", "overruled_reason", "old_kind", "found_by"),
        head=lambda f: f"F-{f.number} {f.head}", day=lambda f: f.found_on, panel=lambda f: f.panel, outline=lambda f: f.outline,
        page=lambda f: finding_address(f.vehicle_id, f.number), read=("panel",),
    ),
    Kind(
        model="survey.Inspection", name="looks", path="finding__vehicle", texts=("made_by",),
        head=lambda i: f"F-{i.finding.number} looked at: {i.get_stage_display().lower()}", day=lambda i: i.made_on,
        panel=lambda i: i.finding.panel, outline=lambda i: i.outline, page=lambda i: finding_address(i.finding.vehicle_id, i.finding.number),
        read=("finding__panel",),
    ),
    Kind(
        model="survey.EvidenceItem", name="evidence", path="finding__vehicle", texts=("result", "made_by"),
        head=lambda e: f"F-{e.finding.number} {EVIDENCE_WORDS[e.method]}", day=lambda e: e.made_on, panel=lambda e: e.finding.panel,
        outline=lambda e: e.finding.outline, page=lambda e: finding_address(e.finding.vehicle_id, e.finding.number), read=("finding__panel",),
        line=False,
    ),
    Kind(
        model="survey.FarSide", name="far sides", path="panel__view__vehicle", texts=("answer", "by"), head=lambda f: f"Behind {f.panel.code}",
        day=lambda f: f.answered_on, panel=lambda f: f.panel, outline=lambda f: f.panel.outline, page=_panel_page(lambda f: f.panel),
        read=("panel__view",),
    ),
    Kind(
        model="survey.PanelItem", name="notes on panels", path="panel__view__vehicle", head=lambda i: i.text, texts=("kind", "by"),
        panel=lambda i: i.panel, outline=lambda i: i.panel.outline, page=_panel_page(lambda i: i.panel), read=("panel__view",),
    ),
    Kind(
        model="survey.SurveyPhoto", name="photos", path="vehicle", texts=("caption", "seen_from"), head=lambda p: p.caption or "Photo",
        day=lambda p: p.taken_on, panel=lambda p: p.panel, outline=lambda p: p.panel.outline if p.panel else None,
        page=lambda p: reverse("survey:photo", args=[p.vehicle_id, p.pk]), read=("panel",),
    ),
    Kind(
        model="shells.Panel", name="panels", path="view__vehicle", head=lambda p: f"{p.code} {p.name}",
        panel=lambda p: p, outline=lambda p: p.outline, page=_panel_page(lambda p: p), read=("view",), line=False,
    ),
    Kind(
        model="shells.GapRound", name="gaps", path="vehicle", texts=("name", "note"), head=lambda g: f"Gaps: {g.name}", day=lambda g: g.taken_on,
        page=_listed("shells:gaps"),
    ),
    Kind(
        model="datums.Round", name="measuring rounds", path="vehicle", texts=("note", "by", "about"), head=str, day=lambda r: r.taken_on,
        page=lambda r: r.get_absolute_url(),
    ),
    Kind(
        model="datums.DatumPoint", name="datum points", path="vehicle", texts=("how", "source_note"), head=lambda p: f"{p.code} {p.name}",
        page=lambda p: p.get_absolute_url(), line=False,
    ),
    Kind(
        model="datums.Reading", name="struck readings", path="round__vehicle", texts=("struck_why", "device"), head=lambda r: f"Reading struck: {r.typed}",
        day=lambda r: r.made_at.date() if r.made_at else None, page=lambda r: r.round.get_absolute_url(), read=("round",),
        only=(("struck_why__gt", ""),),
    ),
)  # fmt: skip
_REPAIRS = (
    Kind(
        model="repairs.Repair", name="repairs", path="vehicle", texts=("style",), head=lambda r: f"{r.code} {r.title}", repair=lambda r: r,
        page=lambda r: r.get_absolute_url(), line=False,
    ),
    Kind(
        model="repairs.RibbonStep", name="steps of repairs", path="repair__vehicle", texts=("note", "despite", "by"),
        head=lambda s: f"{s.repair.code} {s.state}", day=lambda s: s.made_on, repair=_MINE, page=_log, read=("repair",),
    ),
    Kind(
        model="cut.SheetStep", name="steps of sheets", texts=("note", "despite", "by"), **_OF_CUT,
        head=lambda s: f"{s.cut.repair.code} {s.cut.panel.code}: {SHEET_TO_DO.get(s.state, s.state)}", day=lambda s: s.made_on,
        page=_of_repair("weld:joints", _CUT),
    ),
    Kind(
        model="cut.PanelChoice", name="decisions", path="repair__vehicle", texts=("why", "tips"), head=lambda c: f"{c.repair.code} {c.panel.code}: {c.words}",
        day=lambda c: c.decided_on, repair=_MINE, panel=lambda c: c.panel, outline=lambda c: c.panel.outline,
        page=_of_repair("cut:options", _MINE), read=("repair", "panel"),
    ),
    Kind(
        model="cut.CutGrowth", name="growth", path="repair__vehicle", texts=("by",), head=lambda g: f"{g.repair.code} {g.panel.code} grew: {g.words}",
        day=lambda g: g.made_on, repair=_MINE, panel=lambda g: g.panel, outline=lambda g: g.outline, page=_of_repair("cut:cut", _MINE),
        read=("repair", "panel"),
    ),
    Kind(
        model="cut.Surrounding", name="things round panels", path="panel__view__vehicle", texts=("survives", "kind"), head=lambda s: s.name,
        panel=lambda s: s.panel, outline=lambda s: s.panel.outline, page=_panel_page(lambda s: s.panel), read=("panel__view",), line=False,
    ),
    Kind(
        model="cut.TransferMark", name="transfer marks", texts=("first_name", "second_name", "by"), **_OF_CUT, head=str, day=lambda m: m.measured_on,
        page=_of_repair("patch:transfer", _CUT),
    ),
    Kind(
        model="patch.FitOffer", name="offer-ups", texts=("note", "by"), **_OF_CUT, head=lambda o: f"{o.cut.repair.code} {o.cut.panel.code} offered up",
        day=lambda o: o.offered_on, page=_of_repair("patch:fit", _CUT),
    ),
    Kind(
        model="patch.StockSheet", name="steel in stock", path="vehicle", texts=("supplier", "place", "coating"), head=lambda s: str(s),
        page=_listed("patch:stock"), line=False,
    ),
    Kind(model="patch.BenchSum", name="sums of the bench", path="vehicle", head=lambda s: s.title, page=_listed("patch:sums"), line=False),
    Kind(
        model="weld.Coupon", name="weld settings", path="vehicle", texts=("result", "note", "by", "process"),
        head=lambda c: f"Setting {c.number}, {c.process} {c.joint}", day=lambda c: c.made_on, page=_listed("weld:book"),
    ),
    Kind(
        model="weld.JointWord", name="joints", texts=("process", "how", "made_by"), **_OF_CUT,
        head=lambda j: f"{j.cut.repair.code} {j.cut.panel.code} joint: {j.process}".rstrip(": "), day=lambda j: j.made_on, page=_of_repair("weld:joints", _CUT),
    ),
    Kind(
        model="weld.HotWork", name="hot work", path="vehicle", texts=("note", "begun_by", "watched_by"), head=lambda h: f"Hot work {h.number}",
        day=lambda h: h.begun_at.date(), page=_listed("weld:hot"),
    ),
    Kind(
        model="protect.Coat", name="coats", path="face__cut__repair__vehicle", texts=("note", "by"),
        head=lambda c: f"{c.face.cut.repair.code} {c.face.cut.panel.code} {c.face.key}: {c}", day=lambda c: c.put_on.date(),
        repair=lambda c: c.face.cut.repair, panel=lambda c: c.face.cut.panel, outline=lambda c: c.face.cut.outline,
        page=_of_repair("protect:protect", lambda c: c.face.cut.repair), read=("face__cut__repair", "face__cut__panel"),
    ),
    Kind(model="protect.OwnProduct", name="products", path="vehicle", texts=("kind",), head=lambda p: p.name, day=lambda p: p.bought_on,
         page=_listed("protect:products"), line=False),
)  # fmt: skip
_PARTS = (
    Kind(
        model="parts.Need", name="needs", path="vehicle", texts=("variant", "sizes", "note", "reason"), head=lambda n: f"P-{n.number} {n.name}",
        repair=_MINE, page=_numbered("parts:need"), read=("repair",), line=False, own_place=_own,
    ),
    Kind(
        model="parts.NeedStep", name="steps of needs", path="need__vehicle", texts=("why",), head=lambda s: f"P-{s.need.number} {s.need.name}: {s.state}",
        day=lambda s: s.made_on, repair=lambda s: s.need.repair, page=lambda s: reverse("parts:need", args=[s.need.vehicle_id, s.need.number]),
        read=("need__repair",),
    ),
    Kind(
        model="parts.NeedQuote", name="quotes", path="need__vehicle", texts=("grade", "ref", "note", "lacks", "source"),
        head=lambda q: f"{q.name}: P-{q.need.number} {q.need.name}", repair=lambda q: q.need.repair,
        page=lambda q: reverse("parts:need", args=[q.need.vehicle_id, q.need.number]), read=("need__repair",), line=False,
    ),
    Kind(
        model="parts.ArrivalCheck", name="arrival checks", path="need__vehicle", texts=("note", "verdict"),
        head=lambda c: f"P-{c.need.number} {c.need.name} checked", day=lambda c: c.checked_on, repair=lambda c: c.need.repair,
        page=lambda c: reverse("parts:arrival", args=[c.need.vehicle_id, c.need.number]), read=("need__repair",),
    ),
    Kind(
        model="parts.Receipt", name="receipts", path="vehicle", texts=("reference", "note", "despite"), head=lambda r: f"Receipt {r.number}, {r.supplier}",
        day=lambda r: r.day, page=_numbered("parts:receipt"),
    ),
    Kind(
        model="parts.CostLine", name="costs", path="vehicle", texts=("supplier", "kind"), head=lambda c: f"{c.item}, {_money(c)}", day=lambda c: c.bought_on,
        repair=_MINE, page=lambda c: reverse("parts:line", args=[c.vehicle_id, c.pk]), read=("repair",),
    ),
    Kind(
        model="parts.PartOrder", name="orders", path="vehicle", texts=("reference", "told", "note", "state"), head=lambda o: f"Order {o.number}, {o.supplier}",
        day=lambda o: o.ordered_on, page=_listed("parts:orders"),
    ),
    Kind(model="parts.Supplier", name="suppliers", path="vehicle", texts=("address", "note"), head=lambda s: s.name, page=_listed("parts:orders"), line=False),
    Kind(model="parts.Surplus", name="surplus", path="vehicle", texts=("note",), head=lambda s: s.name, page=_listed("parts:surplus"), line=False),
    Kind(
        model="parts.BankLine", name="payments", path="vehicle", head=lambda b: b.text, day=lambda b: b.day,
        page=lambda b: reverse("parts:statement", args=[b.vehicle_id, b.statement.number]), read=("statement",), line=False,
    ),
    Kind(
        model="parts.CustomerPaper", name="customer's sheets", path="vehicle", texts=("note", "agreed_by", "paper"),
        head=lambda p: f"{p.get_paper_display()} for {p.customer}",
        day=lambda p: p.made_on, page=_numbered("parts:paper"),
    ),
    Kind(model="parts.Budget", name="budgets", path="vehicle", head=lambda b: b.name, page=_listed("parts:money"), line=False),
    Kind(
        model="strip.StripPart", name="parts that came off", path="vehicle", texts=("box", "shelf", "waits_for", "note", "fastenings", "ends", "state"),
        head=lambda p: f"S-{p.number} {p.name}", day=lambda p: p.removed_on, repair=lambda p: p.cut.repair if p.cut else None,
        page=lambda p: f"{reverse('strip:register', args=[p.vehicle_id])}?part={p.number}", read=("cut__repair",), own_place=_own,
    ),
)  # fmt: skip
_LOG = (
    Kind(
        model="record.Donor", name="donors", path="vehicle", texts=("body_no", "note", "by"), head=lambda d: f"Donor {d.name}", day=lambda d: d.brought_on,
        page=_listed("record:donors"),
    ),
    Kind(
        model="logbook.WorkEntry", name="hours", path="vehicle", texts=("kind", "by"),
        head=lambda w: f"{w.get_kind_display()} {clock(w.minutes)}: {w.note}".rstrip(": "),
        day=lambda w: w.worked_on, repair=_MINE, page=lambda w: reverse("logbook:work", args=[w.vehicle_id, w.pk]), read=("repair",),
    ),
    Kind(
        model="logbook.Note", name="notes", path="repair__vehicle", texts=("text", "about", "by"), head=lambda n: f"{n.repair.code}: {n.text[:80]}",
        day=lambda n: n.written_on, repair=_MINE, page=lambda n: reverse("logbook:note", args=[n.repair.vehicle_id, n.pk]), read=("repair",),
    ),
    Kind(
        model="logbook.Photo", name="photos", path="vehicle", texts=("subject_of", "stage", "by"), head=_photo_head,
        day=lambda p: p.taken_on, repair=_MINE, page=_photo_page, read=("repair",), own_place=_own,
    ),
    Kind(model="order.WorkSlot", name="slots", path="vehicle", head=lambda s: s.note, day=lambda s: s.day, page=_listed("order:plan"), line=False),
    Kind(
        model="order.StepWord", name="steps", path="vehicle", texts=("said",), head=lambda s: str(s),
        page=lambda s: f"{reverse('order:plan', args=[s.vehicle_id])}?step={s.key}", line=False,
    ),
    Kind(model="order.OrderLimits", name="limits of the plan", path="vehicle", head=lambda limits: limits.why, page=_listed("order:plan"), line=False),
    Kind(
        model="hold.WorkOrder", name="orders of removal", path="vehicle", head=lambda o: o.despite, day=lambda o: o.accepted_on,
        page=_listed("hold:order"), line=False,
    ),
)  # fmt: skip
KINDS = {kind.model: kind for kind in (*_SURVEY, *_REPAIRS, *_PARTS, *_LOG)}
#: Kinds that hold words a person typed and are found all the same by what they hang on, or hold none that mean anything by themselves.
NOT_FOUND = {
    "record.PanelRank": "a code and a rank",
    "shells.Vehicle": "its own page", "shells.ShellView": "drawn", "shells.CavityWord": "its panels", "shells.HungWord": "a code and a size",
    "survey.LookedRegion": "its panel", "datums.StandSet": "figures", "hold.HoldSetup": "figures", "hold.DialReading": "a node and figures",
    "cut.OwnPlan": "its repair's decision", "patch.BenchWork": "ticks and figures", "weld.WeldPlan": "its joint", "protect.Face": "its coats",
    "protect.BoxWord": "its repair's gate", "parts.BankStatement": "its payments", "order.WorkTime": "its hours",
}  # fmt: skip
