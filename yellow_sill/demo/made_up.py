"""What the demo vehicle is said to have: findings, looks, repairs, hours and costs, all made up."""

OWNER = "Wren Askew"
DIMENSIONS = {
    "wheelbase": 2400, "overall_length": 3980, "front_overhang": 650, "width": 1564, "height": 1345, "waist_height": 888, "sill_length": 1392, "door_length": 1066,
}  # fmt: skip

#: (view, panel, name, corners, evidence as (method, result, hits, tries, mm), days ago)
FINDINGS = [
    ("left", "L-WING", "Wing, lower rear corner", [(478, 256), (548, 244), (622, 252), (640, 292), (612, 352), (560, 366), (520, 330), (482, 312)], [("seen", "pitted", None, None, None), ("tap", "rings", 3, 3, None), ("gauge", "reading", None, None, 0.74)], 210),
    ("left", "L-WING", "Wing, behind the lamp", [(-596, 566), (-520, 560), (-470, 600), (-478, 660), (-540, 682), (-590, 640)], [("seen", "bubbling", None, None, None)], 209),
    ("left", "L-SILL", "Sill end, front", [(698, 300), (708, 274), (746, 262), (792, 264), (830, 276), (844, 300), (832, 324), (794, 334), (766, 328), (744, 336), (716, 334), (700, 320)], [("probe", "through", 3, 5, None), ("tap", "dull", 2, 5, None), ("lamp", "light", None, None, None)], 208),
    ("left", "L-QTR", "Rear arch lip", [(2436, 624), (2520, 606), (2620, 552), (2690, 500), (2722, 520), (2690, 580), (2600, 648), (2500, 682), (2440, 676)], [("tap", "dull", 4, 6, None), ("probe", "dents", 2, 6, None)], 208),
    ("left", "L-QTR", "Quarter, lower rear corner", [(2800, 326), (2900, 348), (3060, 374), (3130, 385), (3140, 440), (3110, 476), (2980, 482), (2860, 466), (2800, 430)], [("seen", "filler", None, None, None)], 207),
    ("left", "L-QTR", "Below the rear screen", [(2720, 852), (2790, 862), (2860, 866), (2900, 850), (2840, 836), (2740, 832)], [("seen", "pitted", None, None, None)], 207),
    ("left", "L-APOST", "A-post foot", [(688, 392), (716, 386), (738, 396), (742, 428), (722, 440), (696, 424)], [("probe", "dents", 2, 4, None), ("gauge", "reading", None, None, 0.62)], 206),
    ("left", "L-SILLM", "Sill membrane, front", [(710, 240), (780, 236), (828, 244), (834, 256), (788, 258), (730, 256)], [("probe", "through", 1, 4, None)], 180),
    ("left", "L-SILLI", "Inner sill behind the hole", [(640, 226), (720, 222), (800, 230), (806, 262), (740, 270), (650, 262)], [("probe", "dents", 2, 3, None)], 150),
    ("right", "R-SILL", "Sill end, front", [(-836, 292), (-800, 262), (-742, 254), (-700, 264), (-690, 300), (-716, 330), (-780, 336), (-826, 322)], [("probe", "dents", 3, 6, None), ("tap", "dull", 3, 6, None)], 120),
    ("right", "R-SILL", "Sill, rear end", [(-2016, 240), (-1940, 236), (-1880, 246), (-1884, 286), (-1960, 300), (-2020, 290)], [("probe", "through", 1, 5, None)], 119),
    ("right", "R-WING", "Wing top, inner seam", [(-330, 812), (-180, 806), (-20, 812), (60, 820), (40, 800), (-150, 788), (-320, 796)], [], 60),
    ("underside", "L-FLOOR", "Floor pan, front outer corner", [(760, 540), (880, 534), (990, 560), (1000, 640), (900, 662), (770, 656)], [("scaler", "broke", 2, None, None), ("lamp", "light", None, None, None)], 100),
    ("underside", "R-FLOOR", "Floor pan, under the pedals", [(740, -600), (860, -610), (900, -560), (840, -520), (750, -530)], [("scaler", "survived", None, None, None), ("gauge", "reading", None, None, 0.71)], 99),
    ("underside", "L-RAILB", "Rail at the front hanger", [(1700, 468), (1760, 466), (1766, 520), (1704, 524)], [("gauge", "reading", None, None, 1.05)], 98),
    ("underside", "BOOT", "Boot floor, spare wheel well", [(2900, -60), (2990, -80), (3060, -40), (3040, 20), (2940, 30)], [("seen", "stain", None, None, None), ("tap", "rings", None, None, None)], 97),
    ("right", "R-SILL", "Sill, above the jacking point", [(-1052, 300), (-1032, 288), (-972, 286), (-952, 300), (-960, 324), (-1000, 332), (-1040, 322)], [("probe", "dents", 2, 4, None), ("tap", "dull", 3, 4, None)], 119),
    ("top", "ROOF", "Roof corner beside the gutter", [(2216, -532), (2262, -522), (2304, -506), (2290, -484), (2240, -492), (2210, -510)], [("seen", "bubbling", None, None, None), ("sign", "bulge", None, None, None)], 95),
    ("top", "L-CANT", "Gutter, rear corner", [(2214, -562), (2262, -552), (2300, -540), (2300, -532), (2262, -542), (2216, -552)], [("sign", "apart", None, None, None), ("probe", "dents", 2, 4, None)], 95),
    ("left", "L-CANTM", "Cant rail under the gutter", [(2150, 1286), (2196, 1276), (2206, 1262), (2158, 1272)], [("sign", "welds", None, None, None)], 94),
    ("top", "SCUTTLE", "Screen channel, lower corner", [(688, -640), (728, -640), (734, -602), (700, -592)], [("probe", "through", 1, 3, None), ("sign", "lead", None, None, None)], 94),
    ("top", "SCUTTLE", "Scuttle, behind the bonnet's hinge", [(622, -500), (660, -504), (672, -450), (634, -440)], [("seen", "pitted", None, None, None)], 94),
    ("door-left", "L-DOOR", "Door bottom, front", [(836, 384), (900, 378), (988, 378), (1002, 404), (940, 428), (862, 424)], [("probe", "through", 2, 6, None), ("sign", "edge", None, None, None)], 93),
]  # fmt: skip

#: (repair index or None, days ago, supplier, item, kind, quantity, unit price, rate, included)
COSTS = [
    (None, 230, "Corner Tool Hire", "Axle stands, pair, 3 t", "tool", "2", "34.50", "20", True),
    (None, 226, "Harbour Gas", "Shield gas, 10 l, deposit and fill", "consumable", "1", "92.00", "20", False),
    (None, 225, "Fallow & Pike", "Welding wire 0.6 mm, 5 kg", "consumable", "1", "31.80", "20", True),
    (0, 190, "Sheet & Section Depot", "Sheet 1.0 mm, 1000 x 500", "steel", "2", "14.20", "20", False),
    (0, 188, "Fallow & Pike", "Cutting discs 1.0 mm, box of 25", "consumable", "1", "18.90", "20", True),
    (0, 176, "Fallow & Pike", "Flap discs 60, 5", "consumable", "2", "11.40", "20", True),
    (0, 172, "Coat Cellar", "Epoxy primer, 1 l set", "coating", "1", "38.00", "20", False),
    (0, 168, "Coat Cellar", "Cavity wax, 1 l", "coating", "2", "12.75", "20", True),
    (1, 80, "Sheet & Section Depot", "Sheet 1.2 mm, 500 x 500", "steel", "1", "11.60", "20", False),
    (1, 62, "Fallow & Pike", "Spot-weld cutter, 8 mm", "tool", "1", "16.95", "20", True),
    (1, 40, "Harbour Gas", "Shield gas, refill", "consumable", "1", "46.00", "20", False),
    (2, 24, "Old Yard Panels", "Repair section, rear arch lip, left", "part", "1", "128.00", "0", True),
    (None, 12, "Coat Cellar", "Weld-through primer, 400 ml", "coating", "2", "13.60", "20", True),
]  # fmt: skip

#: (finding's place, stage, how much larger all round in mm, days ago, looks): the same holes after stripping, opening, cutting
LATER = [
    (2, "stripped", 3, 81, [("scaler", "broke", 3, None)]), (4, "opened", 14, 191, [("seen", "filler", None, None)]), (3, "stripped", 5, 24, [("tap", "dull", 5, 6)]),
]  # fmt: skip
#: What opening the sill end showed, after its ways had been compared: the skin a little worse, the membrane a good deal.
SILL_OPENED = [
    (2, "opened", 5, 66, [("seen", "hole", None, None)]),
    (7, "opened", 16, 64, [("probe", "through", 3, 4)]),
]
#: What its cuts meet and the drawing does not show: (panel, kind, name, places in the left view)
SILL_AROUND = [
    ("L-SILL", "keep-out", "Jacking point and its box", [(900, 234), (948, 234), (948, 280), (900, 280)]),
    ("L-SILLM", "fitting", "Handbrake cable guide", [(762, 238), (800, 238), (800, 254), (762, 254)]),
    ("L-SILLI", "row", "Row to the floor flange", [(560 + 38 * i, 212) for i in range(14)]),
]  # fmt: skip
#: A plan of the owner's own for the sill's skin: up to the jacking point.
TO_THE_JACK = [(640, 352), (884, 352), (884, 200), (640, 200)]
#: (view, layer, opposite corners, method, days ago)
LOOKED = [
    ("left", 1, (-650, 200, 1250, 900), "probe", 208), ("left", 1, (1900, 300, 3340, 910), "tap", 207), ("left", 1, (1700, 360, 1940, 1300), "seen", 207),
    ("right", 1, (-2100, 200, -600, 420), "probe", 119), ("right", 1, (-3340, 300, -2380, 900), "tap", 119), ("underside", 1, (700, 90, 1850, 780), "probe", 98),
    ("underside", 1, (1600, -560, 3240, 560), "seen", 98), ("left", 2, (400, 204, 1300, 360), "lamp", 66), ("left", 3, (600, 204, 1400, 400), "probe", 64),
    ("top", 1, (1100, -600, 2360, -300), "seen", 95), ("top", 1, (580, -660, 780, -380), "probe", 94), ("door-left", 1, (740, 364, 1850, 520), "probe", 93),
]  # fmt: skip
#: (panel, what is behind, how it was looked at, what goes with it)
FAR_SIDES = [
    ("L-SILL", "Sill membrane 40 mm in; nothing fixed to the skin", "lamp", [("salvage", "Two rubber plugs of the drain slots")]),
    ("L-SILLM", "Handbrake cable guide and one bracket, spot-welded", "seen", [("behind", "Handbrake cable guide"), ("salvage", "Bracket of the cable guide, two M6 nuts")]),
    ("L-SILLI", "Carpet glue and one clip of the wiring, all out; bare metal, looked with lamp from the seat", "lamp", [("salvage", "Wiring clip, one")]),
    ("L-QTR", "Nothing there at the lower corner, looked with lamp from the boot", "lamp", [("lacking", "The new arch section has no drain slots"), ("missing", "Rubber grommet of the tail lamp lead")]),
]  # fmt: skip

#: What the cut in the sill membrane takes with it, measured to metal that stays; places in the left view.
TRANSFERS = [
    {"name": "Cable guide bracket", "kind": "edge", "first_name": "jacking tube, centre", "second_name": "hinge box, front corner", "first_at": [918.0, 256.0],
     "second_at": [640.0, 356.0], "apart_mm": None, "way": "distances", "first_mm": 142.0, "second_mm": 176.0, "near": [778.0, 246.0]},
    {"name": "M6 nut", "kind": "nut", "first_name": "jacking tube, centre", "second_name": "hinge box, front corner", "first_at": [918.0, 256.0],
     "second_at": [640.0, 356.0], "apart_mm": 295.5, "way": "offset", "first_mm": 85.5, "second_mm": 45.5, "near": [822.0, 242.0]},
]  # fmt: skip
HOT_WORK_LATER = "Watch and extinguisher were there, ticked on the sheet afterwards"
MEASURED_AFTER = "Brace in first; the round is taken the day after"
CLOSED_LATER = "Open from below: painted and waxed through the wheel arch afterwards"
SKIN_ONLY = "Skin behind the arch only: it holds nothing, and no datum is near"

#: How patches of the demo are made: repair and panel, then which edge (of its middles the lowest, highest, foremost; the curved lip) and how.
PATCHES = {
    (2, "L-SILL"): {"lowest": {"treatment": "joggle", "legs_mm": [14.0], "inside_radius_mm": 1.0}},
    (2, "L-SILLM"): {
        "lowest": {
            "treatment": "return", "legs_mm": [22.0, 10.0], "inside_radius_mm": 1.0, "holes": [{"at": [130.0, 12.0], "diameter_mm": 8.0, "kind": "drain"}],
        },
        "highest": {"treatment": "return", "legs_mm": [18.0, 10.0], "inside_radius_mm": 1.0}, "foremost": {"treatment": "joggle", "legs_mm": [12.0]},
    },
    (5, "L-FLOOR"): {"lowest": {"treatment": "flange", "legs_mm": [18.0], "inside_radius_mm": 1.0}, "highest": {"treatment": "lap", "legs_mm": [15.0]}},
    (3, "L-QTR"): {"lip": {"treatment": "flange", "legs_mm": [14.0], "inside_radius_mm": 1.5}},
}  # fmt: skip

WORK = [
    (0, 190, "cut", "1:45", "Filler off, over-plate beneath it"), (0, 189, "cut", "2.5", ""), (0, 182, "make", "3", "Two tries, first one the wrong hand"),
    (0, 176, "fit", "1:30", ""), (0, 175, "weld", "3:15", "Blown with air between passes"), (0, 170, "dress", "2", ""), (0, 168, "protect", "1:30", "Epoxy, then wax"),
    (1, 80, "strip", "2", "Sound deadening off, tested it first"), (1, 62, "cut", "3.5", "Membrane worse than the skin"), (1, 44, "make", "2:15", ""),
    (2, 24, "strip", "1", ""), (None, 230, "survey", "5", "Left side"), (None, 120, "survey", "3:30", "Right side"), (None, 98, "survey", "4", "Underside"),
]  # fmt: skip
