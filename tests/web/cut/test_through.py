"""Every choice is taken through to the end of the work: each way of each of the demo's findings gives a cut that a pattern can be made from."""

from shapely.geometry import Point, Polygon

from tests.builders import DAY, finding, repair
from tests.web.test_rooms import RoomCase
from yellow_sill.core.cut.stretches import lengths_of
from yellow_sill.core.errors import BadField
from yellow_sill.core.shell.edges import runs_by
from yellow_sill.demo.made_up import FINDINGS
from yellow_sill.web.cut.layer_services import stacks_of
from yellow_sill.web.cut.option_services import choose_option, options_of
from yellow_sill.web.cut.services import check, move_cut
from yellow_sill.web.cut.stretch_services import say_stretches, stretches_of
from yellow_sill.web.patch.services import developed, patch_of, stored_values
from yellow_sill.web.shells.whole_services import say_edge, unsay_edge
from yellow_sill.web.shells.whole_services import stretches_of as edges_of_panel
from yellow_sill.web.weld.models import WeldPlan
from yellow_sill.web.weld.services import replan

PRICES = {"whole": {"price": 95, "days": 14}, "part": {"price": 40, "days": 10}}


class Through(RoomCase):
    def test_every_way_of_every_finding_of_the_demo_comes_to_a_pattern(self):
        ways = set()
        for view, code, title, corners, *_ in FINDINGS:
            made = repair(self.vehicle, [finding(self.vehicle, code, view, corners=corners, title=title)])
            for stack in stacks_of(made):
                for way in options_of(made, stack, PRICES).options:
                    with self.subTest(finding=title, way=way.name):
                        choose_option(
                            made, stack, way.name, PRICES, why="to try it", version=None, by="Wren", today=DAY
                        )
                        ways.add(way.name)
                        for cut in made.cuts.all():
                            if way.name in ("part", "whole") and cut.panel == stack.front:
                                panel = Polygon(cut.panel.outline).buffer(0.5)
                                self.assertTrue(
                                    all(panel.covers(Point(at)) for at in cut.corners),
                                    "corners that can be set out on the panel",
                                )
                            pattern = developed(cut, stored_values(patch_of(cut))).pattern
                            self.assertGreater(pattern.area_mm2, 0.8 * cut.area_mm2)
                            self.assertEqual(
                                move_cut(cut, cut.corners, version=None, by="Wren").outline,
                                cut.outline,
                                "the same corners, the same cut",
                            )
        self.assertEqual(ways, {"patches", "merged", "part", "whole"})

    def test_a_free_edge_is_not_set_back_and_what_a_person_says_of_a_stretch_counts_for_pattern_and_weld(
        self,
    ):
        corners = [
            (2436, 624),
            (2520, 606),
            (2620, 552),
            (2690, 500),
            (2722, 520),
            (2690, 580),
            (2600, 648),
            (2500, 682),
            (2440, 676),
        ]
        made = repair(self.vehicle, [finding(self.vehicle, "L-QTR", corners=corners)], style="hull")
        cut = made.cuts.get()
        found = stretches_of(cut)
        self.assertEqual(
            [each.kind for each in found], ["free", "joint"] if found[0].kind == "free" else ["joint", "free"]
        )
        free = next(each for each in found if each.kind == "free")
        lip = Polygon(cut.panel.outline).exterior
        pattern = developed(cut, stored_values(patch_of(cut))).pattern
        on_lip = [at for at in pattern.corners if lip.distance(Point(at)) < 0.02]
        self.assertGreater(len(on_lip), 3, "the lip comes out where it was")
        welded = cut.weld_length_mm
        say_stretches(
            cut,
            ["seam" if each.kind == "joint" else each.kind for each in found],
            version=cut.version,
            by="Wren",
        )
        self.assertEqual(check(cut, cut.corners).weld_length_mm, 0)
        self.assertTrue(all(each.by_hand == (each.kind == "seam") for each in stretches_of(cut)))
        say_stretches(cut, [each.kind for each in found], version=cut.version, by="Wren")
        self.assertEqual((cut.said, check(cut, cut.corners).weld_length_mm), ([], welded))
        weld = WeldPlan.objects.create(cut=cut)
        replan(weld)
        lip_side = next(
            each for each in edges_of_panel(self.vehicle, cut.panel) if runs_by(each, free.middle)
        )
        say_edge(cut.panel, lip_side, by="Wren", kind="braze", meets=["L-ARCHO"])
        self.assertEqual({each.kind for each in stretches_of(cut)}, {"joint"}, "said of the sheet")
        cut.refresh_from_db()
        weld.refresh_from_db()
        self.assertGreater(cut.weld_length_mm, welded + 50)
        self.assertEqual([seam["closed"] for seam in weld.tack_plans], [True], "welded all round")
        unsay_edge(cut.panel, lip_side, by="Wren")
        cut.refresh_from_db()
        self.assertEqual(cut.weld_length_mm, welded)
        for kinds, words in ((["joint"], "has changed"), (["glued"] * len(found), "no kind of stretch")):
            with self.assertRaisesRegex(BadField, words):
                say_stretches(cut, kinds, version=cut.version, by="Wren")
        self.assertGreater(lengths_of(found)["free"], free.length_mm - 1)

    def test_a_floor_meets_its_neighbours_and_is_no_work_of_a_moment(self):
        corners = FINDINGS[13][3]
        made = repair(self.vehicle, [finding(self.vehicle, "R-FLOOR", "underside", corners=corners)])
        [stack] = stacks_of(made)
        whole = next(way for way in options_of(made, stack, PRICES).options if way.name == "whole")
        self.assertGreater(whole.plugs, 40)
        self.assertGreater(whole.hours, 6)
