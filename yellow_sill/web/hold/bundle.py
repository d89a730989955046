"""How the shell stands and stood, dials read and the order of work, in a bundle."""

from typing import Any

from yellow_sill.core.formats.bundle_hold import (
    DialPart,
    HoldPart,
    HoldSetupPart,
    HoldStatePart,
    WorkOrderPart,
)
from yellow_sill.web.frame.bundles import Section, Storing, part
from yellow_sill.web.shells.models import Vehicle

from .models import DialReading, HoldSetup, HoldState, WorkOrder


def _vehicle(vehicle: Vehicle) -> dict[str, Any]:
    setup = HoldSetup.objects.filter(vehicle=vehicle).first()
    order = WorkOrder.objects.filter(vehicle=vehicle).first()
    told = HoldPart(
        states=[part(HoldStatePart, state) for state in vehicle.hold_states.all()],
        dials=[part(DialPart, dial) for dial in vehicle.dial_readings.all()],
        order=part(WorkOrderPart, order) if order else None,
    )
    return {"hold_setup": part(HoldSetupPart, setup) if setup else None, "hold": told}


def _store(storing: Storing, bundle: Any) -> None:
    vehicle, by = storing.vehicle, storing.by
    if bundle.hold_setup:
        HoldSetup.objects.create(vehicle=vehicle, changed_by=by, **bundle.hold_setup.model_dump(mode="json"))
    HoldState.objects.bulk_create(
        HoldState(
            vehicle=vehicle, made_on=state.made_on, by=state.by, setup=state.setup.model_dump(mode="json")
        )
        for state in bundle.hold.states
    )
    DialReading.objects.bulk_create(
        DialReading(vehicle=vehicle, **dial.model_dump()) for dial in bundle.hold.dials
    )
    if order := bundle.hold.order:
        steps = [step.model_dump(mode="json") for step in order.steps]
        WorkOrder.objects.create(
            vehicle=vehicle, changed_by=by, steps=steps, accepted_on=order.accepted_on, despite=order.despite
        )


SECTION = Section(vehicle=_vehicle, store=_store)
