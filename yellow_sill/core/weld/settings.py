"""A starting setting for a joint: where to begin on scrap, never a promise."""

from dataclasses import dataclass

from ..cut.rows import plug_hole_mm
from ..errors import BadField
from ..said import Listed, Mm, Said

PROVE_ON_SCRAP = (
    "Starting point only. Prove on scrap of the same thickness and joint before you touch the vehicle."
)

PROCESSES = {"mig": "MIG", "tig": "TIG", "spot": "Resistance spot", "braze": "Gas braze"}
JOINTS = {"butt": "Butt", "lap": "Lap", "joggle": "Joggled lap", "plug": "Plug weld on flange"}

#: MIG short-arc on mild steel, butt: amperes per mm of sheet, rule of thumb 40 to 45; a lap takes a little more.
MIG_A_PER_MM = 42.0
JOINT_SHARE = {"butt": 1.0, "lap": 1.1, "joggle": 1.1, "plug": 1.3}
#: TIG on steel sheet, amperes per mm; rule of thumb 30 to 40.
TIG_A_PER_MM = 35.0
#: Arc volts = 14 + 0.05 A (short-arc MIG) and 10 + 0.04 A (TIG): the machine makers' conventional load lines.
LOAD_LINE = {"mig": (14.0, 0.05), "tig": (10.0, 0.04)}
#: Share of the arc's energy that goes into the plate; usual textbook values.
EFFICIENCY = {"mig": 0.80, "tig": 0.65}
#: Copper-plated steel wire: amperes per m/min of feed by diameter, from the melting rate; rule of thumb.
A_PER_M_MIN = {0.6: 14.0, 0.8: 26.0}
BUTT_GAP_MOST_MM = 1.0
LEAST_MM, MOST_MM = 0.5, 4.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Figure:
    """One dial to set: label, value, unit, digits after the point."""

    label: str
    value: float
    unit: str
    digits: int = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class StartingSetting:
    """Where to begin. ``tack_energy_j`` goes to the heat model; ``gap_mm`` to the fit-up."""

    process: str
    joint: str
    thickness_mm: float
    gap_mm: float
    figures: tuple[Figure, ...]
    tack_energy_j: float
    notes: tuple[str, ...]


def starting_setting(process: str, joint: str, thickness_mm: float) -> StartingSetting:
    """A starting setting, to be proved on scrap.

    Args: process: a key of PROCESSES; joint: a key of JOINTS; thickness_mm: of the thinner sheet, 0.5 to 4.
    Returns: figures for the machine, the gap, the energy of one tack.
    Raises: BadField for a process that cannot make the joint, or a sheet out of range.
    Source: rules of thumb, docs/methods.md section 5.
    """
    if process not in PROCESSES:
        raise BadField(
            "There is no such process.",
            "process",
            Said("Choose one of: {processes}.", processes=Listed(tuple(PROCESSES))),
        )
    if joint not in JOINTS:
        raise BadField(
            "There is no such joint.", "joint", Said("Choose one of: {joints}.", joints=Listed(tuple(JOINTS)))
        )
    if not LEAST_MM <= thickness_mm <= MOST_MM:
        raise BadField(
            Said("{thickness_mm} is outside what these rules cover.", thickness_mm=Mm(thickness_mm)),
            "thickness_mm",
            Said("They hold for {least_mm} to {most_mm} mm.", least_mm=LEAST_MM, most_mm=MOST_MM),
        )
    makers = {"mig": _mig, "tig": _tig, "spot": _spot, "braze": _braze}
    gap, figures, energy, notes = makers[process](joint, thickness_mm)
    return StartingSetting(
        process=process,
        joint=joint,
        thickness_mm=thickness_mm,
        gap_mm=gap,
        figures=tuple(Figure(label=a, value=round(b, d), unit=c, digits=d) for a, b, c, d in figures),
        tack_energy_j=round(energy),
        notes=(PROVE_ON_SCRAP, *notes),
    )


def _mig(joint: str, t: float):
    amps = MIG_A_PER_MM * t * JOINT_SHARE[joint]
    volts = LOAD_LINE["mig"][0] + LOAD_LINE["mig"][1] * amps
    wire = 0.6 if t <= 1.2 else 0.8
    seconds = 0.8 if joint != "plug" else 1.5
    figures = [
        ("Current", amps, "A", 0),
        ("Arc", volts, "V", 1),
        ("Wire", wire, "mm", 1),
        ("Feed", amps / A_PER_M_MIN[wire], "m/min", 1),
    ]
    figures += [("Gas", 9.0, "l/min", 0), ("Tack", seconds, "s", 1), ("Stick-out", 8.0, "mm", 0)]
    notes = ["Grinding follows: the bead is hard."]
    if joint == "plug":
        figures[-1] = ("Hole", plug_hole_mm(t), "mm", 0)
        notes = [
            "Weld-through primer between the flanges; start in the middle of the hole on the lower sheet."
        ]
    gap = min(t, BUTT_GAP_MOST_MM) if joint == "butt" else 0.0
    return gap, figures, amps * volts * seconds * EFFICIENCY["mig"], notes


def _tig(joint: str, t: float):
    if joint == "plug":
        raise BadField(
            "TIG is a poor plug weld on lapped sheet: the lower sheet does not fuse before the rim burns away.",
            "joint",
            "Take MIG for plugs.",
        )
    amps = TIG_A_PER_MM * t * JOINT_SHARE[joint]
    volts = LOAD_LINE["tig"][0] + LOAD_LINE["tig"][1] * amps
    figures = [
        ("Current", amps, "A", 0),
        ("Tungsten", 1.6 if t <= 2 else 2.4, "mm", 1),
        ("Filler", 1.0 if t <= 1 else 1.6, "mm", 1),
    ]
    figures += [("Gas", 7.0, "l/min", 0), ("Tack", 1.0, "s", 1), ("After-gas", 5.0, "s", 0)]
    return (
        0.0,
        figures,
        amps * volts * 1.0 * EFFICIENCY["tig"],
        ["No gap at all, and clean metal on both faces."],
    )


def _spot(joint: str, t: float):
    if joint in ("butt", "joggle"):
        raise BadField(
            "A resistance spot welder needs two sheets lying on each other.",
            "joint",
            "Choose lap or plug, or another process.",
        )
    figures = [
        ("Current", 6.0 + 2.0 * t, "kA", 1),
        ("Time", 8 * t, "cycles", 0),
        ("Force", 1.6 * t, "kN", 1),
        ("Electrode", 4 + t, "mm", 1),
        ("Pitch", 30.0, "mm", 0),
    ]
    # Half the electrical energy stays in the sheet: I^2 R t with R of 100 microohm.
    energy = (1000 * (6.0 + 2.0 * t)) ** 2 * 100e-6 * (8 * t / 50) * 0.5
    return (
        0.0,
        figures,
        energy,
        [
            "Both sides must be reached. Peel a scrap of the same layers: the nugget must tear out of one sheet."
        ],
    )


def _braze(joint: str, t: float):
    if joint == "butt":
        raise BadField(
            "A brazed butt in thin sheet has no strength.",
            "joint",
            "Choose a lap or a joggle, and braze only where the maker brazed.",
        )
    figures = [("Nozzle", 1.0 + t, "size", 0), ("Filler", 1.6, "mm", 1), ("Clearance", 0.1, "mm", 1)]
    return (
        0.0,
        figures,
        1500.0 * t,
        [
            "Only where the maker brazed. The flux must be washed off or it rusts.",
            "Brass fume: fan and mask.",
        ],
    )
