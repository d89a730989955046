"""Hot-work cautions that are shown before any spark, with what each asks for."""

from dataclasses import dataclass

from ..said import Mm, Said

#: Minutes to stay and look after the last spark; ask the local fire code, which may ask for more.
FIRE_WATCH_MIN = 60


@dataclass(frozen=True, slots=True)
class Caution:
    key: str
    head: str
    line: str
    why: str


HOT_WORK = (
    Caution(
        "watch",
        "Fire watch",
        Said("{fire_watch_min} min after", fire_watch_min=FIRE_WATCH_MIN),
        "Stay and look after the last spark; hidden trim glows for a long time.",
    ),
    Caution("extinguisher", "Extinguisher", "in reach", "And water, both before the first spark."),
    Caution("tank", "Fuel out", "lines plugged", "Tank, lines and vapour: out of the building."),
    Caution(
        "foam",
        "Foam, sealer",
        Said("{clear} clear", clear=Mm(300)),
        "Sealer, foam, wax, deadening and covers burn. Old deadening and gaskets may hold asbestos.",
    ),
    Caution(
        "fume",
        "Zinc fume",
        "fan and mask",
        "Galvanised, cadmium, lead-filled, brazed, painted or waxed metal gives off harmful fume.",
    ),
    Caution("battery", "Battery off", "both poles", "Disconnect both poles and pull control units."),
)

STANDING = (
    "Eyes, ears, hands, lungs: discs grab and burst, wire wheels throw wire, the arc burns skin and eyes.",
    "Never under a shell on a jack alone. Stands rated and on sound metal; a shell with panels out can fold.",
    "Chassis, seat-belt, suspension and steering mounts: welding there may be regulated or need inspection. "
    "Follow the maker, local law and a qualified welder or engineer. These are planning figures, not structural approval.",
)
