"""The settings book: coupons tried on scrap, and what they say for a joint of the vehicle."""

from collections.abc import Mapping, Sequence
from typing import Any

from django.core.files.uploadedfile import UploadedFile

from yellow_sill.core.weld.book import (
    BookRequest,
    BookSetting,
    SpotRowRequest,
    SpotRowTold,
    book_setting,
    spot_row,
)
from yellow_sill.core.weld.book import Coupon as CoreCoupon
from yellow_sill.core.weld.plan import PlannedJoint
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame.changes import one_change
from yellow_sill.web.frame.pictures import kept_with
from yellow_sill.web.shells.models import Vehicle

from .models import Coupon, WeldCheck, WeldPlan, WeldShop
from .services import stack_of

#: The joint of a setting for each kind of planned joint.
JOINT_OF = {
    "butt": "butt",
    "lap": "lap",
    "joggle": "joggle",
    "plug row": "plug",
    "spot row": "plug",
    "braze": "lap",
}
_FIELDS = ("number", "process", "joint", "thicknesses_mm", "gap_mm", "wire_mm", "dials", "result", "made_on")


def as_core(coupon: Coupon) -> dict[str, Any]:
    """A coupon as the core takes it."""
    return {name: getattr(coupon, name) for name in _FIELDS}


@one_change
def keep_coupon(
    vehicle: Vehicle, values: Mapping[str, Any], *, photo: UploadedFile | None, stored: Coupon | None, version: int | None, by: str
) -> Coupon:  # fmt: skip
    """Store a coupon, a new one where ``stored`` is None. Raises: BadField: what cannot be a coupon, or a photo that is none; ChangedMeanwhile."""
    number = stored.number if stored else Coupon.next_number(vehicle=vehicle)
    CoreCoupon.read({"number": number} | {name: values[name] for name in _FIELDS if name in values})

    def store(file: dict[str, str]) -> Coupon:
        if stored is not None:
            stored.save_as(version, by, **values, **file)
            return stored
        return Coupon.objects.create(vehicle=vehicle, number=number, by=by, changed_by=by, **values, **file)

    return kept_with(photo, store)


@one_change
def drop_coupon(coupon: Coupon, *, version: int | None) -> None:
    """Raises: ChangedMeanwhile."""
    coupon.require_version(version)
    coupon.delete()


def setting_for(
    vehicle: Vehicle, process: str, joint: str, thicknesses_mm: Sequence[float], *, since: Sequence[Mapping[str, Any]] = ()
) -> BookSetting:  # fmt: skip
    """What to set for a joint. Args: since: what went wrong with it, blown through or missed. Raises: CoreError."""
    return book_setting(
        BookRequest.read(
            {
                "process": process,
                "joint": joint,
                "thicknesses_mm": list(thicknesses_mm),
                "coupons": [as_core(each) for each in vehicle.coupons.all()],
                "since": [dict(each) for each in since],
            }
        )
    )


def went_wrong(weld: WeldPlan) -> list[dict[str, Any]]:
    """The tacks of a plan that blew through, with their days; a back that is not through all along counts as one that lay cold."""
    found = [{"what": "blew", "on": each["when"][:10]} for each in weld.events if each["what"] == "blown"]
    check = WeldCheck.objects.filter(cut=weld.cut, back_seen=False).first()
    return found + ([{"what": "cold", "on": check.changed_at.date()}] if check else [])


def plan_setting(weld: WeldPlan) -> BookSetting:
    """What the book says for the seam of a plan, turned by what went wrong with it. Raises: CoreError."""
    vehicle = weld.cut.repair.vehicle
    return setting_for(vehicle, weld.process, weld.joint, stack_of(weld), since=went_wrong(weld))


def joint_setting(vehicle: Vehicle, cut: Cut, joint: PlannedJoint) -> BookSetting:
    """Raises: CoreError."""
    weld = WeldPlan.objects.filter(cut=cut).first() if joint.what == "tacks" else None
    wrong = went_wrong(weld) if weld else []
    return setting_for(vehicle, joint.process, JOINT_OF[joint.kind], joint.thicknesses_mm[:5], since=wrong)


def spots_of(shop: WeldShop, joint: PlannedJoint, both_sides: bool | None) -> SpotRowTold | None:
    """Which welds of a row the garage's own resistance welder makes; None where nothing is said of its arms. Raises: CoreError."""
    if not shop.welder.get("reach_mm") or len(joint.thicknesses_mm) < 2:
        return None
    places = [
        {"number": number, "in_mm": shop.welder.get("in_mm") or 0.0, "behind_free": both_sides, "gap_mm": joint.gap_found_mm and abs(joint.gap_found_mm)}
        for number in range(1, joint.count + 1)
    ]  # fmt: skip
    welder = {name: value for name, value in shop.welder.items() if name != "in_mm" and value is not None}
    return spot_row(
        SpotRowRequest.read({"welder": welder, "thicknesses_mm": joint.thicknesses_mm[:5], "places": places})
    )


def drawn_stack(coupon: Coupon) -> list[tuple[float, float, float, float]]:
    """The sheets of a coupon as drawn from its edge, 20 px a mm: x, y, width, height."""
    rows, y = [], 8.0
    butt = coupon.joint == "butt"
    for i, t in enumerate(coupon.thicknesses_mm):
        high = 20.0 * t
        gap = 10.0 * (coupon.gap_mm or 0.0)
        if butt:
            rows += [(10.0, y, 75.0 - gap, high), (85.0 + gap, y, 75.0 - gap, high)]
        else:
            rows.append((10.0 if i % 2 == 0 else 50.0, y, 110.0, high))
        y += high
    return rows
