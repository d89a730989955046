"""Products that the faces still need and the shelf does not hold."""

from datetime import datetime, time

from django.utils import timezone

from yellow_sill.core.errors import CoreError
from yellow_sill.core.protect.systems import Can, CansRequest, cans_needed
from yellow_sill.core.repairs.ribbon import STATES
from yellow_sill.web.frame import days
from yellow_sill.web.frame.revision import by_revision
from yellow_sill.web.frame.stages import Lack
from yellow_sill.web.shells.models import Vehicle

from .face_services import faces_of
from .product_services import own_products


@by_revision(2, "protect", "weld", "patch", "cut", "repairs", "survey", "shells")
def cans_of(vehicle: Vehicle) -> list[Can]:
    """How much of each own product the faces of all open repairs still need, as they stand at the end of today."""
    now = timezone.make_aware(datetime.combine(days.today(), time.max))
    faces = []
    for repair in vehicle.repairs.exclude(state__in=("found", STATES[-1])):
        repair.vehicle = vehicle
        try:
            faces += [{"area_m2": each.area_m2, "left": each.told.left} for each in faces_of(repair, now)]
        except CoreError:
            continue
    stock = {each.kind: each.litres for each in vehicle.products.exclude(litres=None)}
    owned = [each.model_dump() for each in own_products(vehicle)]
    return cans_needed(CansRequest.read({"faces": faces, "products": owned, "stock": stock}))


def short(vehicle: Vehicle) -> list[Lack]:
    """Products of which less is there than the faces need; what nobody has counted is not told as short."""
    try:
        cans = cans_of(vehicle)
    except CoreError:
        return []
    return [
        Lack(
            key=f"can-{each.kind}", name=f"{each.name}, {each.lacking:.2f} l"[:80], why="less there than all open faces need", at=[]
        )
        for each in cans if each.lacking
    ]  # fmt: skip
