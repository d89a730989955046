"""Weld plans, joints, checks, the settings book, stock and hot work in a bundle."""

from typing import Any

from yellow_sill.core.formats.bundle_repairs import JointPart, WeldCheckPart, WeldPart
from yellow_sill.core.formats.bundle_weld import CouponPart, HotWorkPart, ShopPart, WeldingPart
from yellow_sill.web.cut.models import Cut
from yellow_sill.web.frame.bundles import Section, Storing, oldest_first, part
from yellow_sill.web.shells.models import Vehicle

from .models import Coupon, HotWork, JointWord, WeldCheck, WeldPlan, WeldShop


def _vehicle(vehicle: Vehicle) -> dict[str, Any]:
    shop = WeldShop.objects.filter(vehicle=vehicle).first()
    told = WeldingPart(
        coupons=[part(CouponPart, each) for each in vehicle.coupons.all()],
        shop=part(ShopPart, shop) if shop else None,
        hot_works=[part(HotWorkPart, each) for each in vehicle.hot_works.all()],
    )
    return {"welding": told}


def _store(storing: Storing, bundle: Any) -> None:
    told, of = bundle.welding, {"vehicle": storing.vehicle, "changed_by": storing.by}
    for coupon in told.coupons:
        values = coupon.model_dump() | {"file": storing.names.get(coupon.file, "")}
        Coupon.objects.create(**of, **values)
    if told.shop:
        WeldShop.objects.create(**of, **told.shop.model_dump(mode="json"))
    for work in told.hot_works:
        HotWork.objects.create(**of, **work.model_dump())


def _cut(cut: Cut) -> dict[str, Any]:
    weld, check = getattr(cut, "weld", None), getattr(cut, "weld_check", None)
    return {
        "weld": part(WeldPart, weld) if weld else None,
        "joints": [part(JointPart, word) for word in oldest_first(cut.joint_words.all())],
        "weld_check": part(WeldCheckPart, check) if check else None,
    }


def _store_cut(storing: Storing, cut: Cut, told: Any) -> None:
    of = {"cut": cut, "changed_by": storing.by}
    if told.weld:
        values = told.weld.model_dump() | {"events": told.weld.model_dump(mode="json")["events"]}
        WeldPlan.objects.create(**of, **values)
    for word in told.joints:
        JointWord.objects.create(**of, **word.model_dump() | {"at": list(word.at)})
    if told.weld_check:
        WeldCheck.objects.create(**of, **told.weld_check.model_dump(mode="json"))


SECTION = Section(
    vehicle=_vehicle,
    store=_store,
    cut=_cut,
    store_cut=_store_cut,
    along=("cuts__weld", "cuts__weld_check", "cuts__joint_words"),
)
