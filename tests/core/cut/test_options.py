"""Ways to renew a panel compared: four usual ones and a person's own."""

from collections import defaultdict
from math import exp, log
from random import Random
from unittest import TestCase

from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import LineString, Polygon
from shapely.ops import unary_union

from yellow_sill.core.cut.lines import shaped_cut
from yellow_sill.core.cut.options import cut_options, part_panels, with_hold
from yellow_sill.core.cut.plans import OptionsRequest
from yellow_sill.core.cut.ranking import shares
from yellow_sill.core.cut.rates import logged_factor
from yellow_sill.core.errors import BadField

SILL = [[0, 0], [1400, 0], [1400, 150], [0, 150]]
SHEETS = [
    {"name": "sill", "thickness_mm": 1.0, "stays": False},
    {"name": "floor", "thickness_mm": 0.9, "stays": True},
]


def hole(x, y, w=50, h=40):
    return [[x, y], [x + w, y], [x + w, y + h], [x, y + h]]


def asked(*holes, **more):
    findings = [{"id": i, "layer": 1, "outline": each} for i, each in enumerate(holes)]
    return OptionsRequest.read(
        {"panel": {"outline": SILL, "thickness_mm": 1.0}, "findings": findings, "margin_mm": 10} | more
    )


def by_name(told):
    return {option.name: option for option in told.options}


class CutOptions(TestCase):
    def test_four_plans_with_what_they_take_and_keep(self):
        rows = [{"id": "lower", "path": [[0, 8], [1400, 8]], "sheets": SHEETS}]
        told = by_name(
            cut_options(
                asked(
                    hole(60, 40),
                    hole(300, 40),
                    rows=rows,
                    whole={"price": 80, "days": 14},
                    seams=[[[400, -1], [400, 151]]],
                )
            )
        )
        self.assertEqual(set(told), {"patches", "merged", "part", "whole"})
        self.assertEqual((told["patches"].pieces, told["merged"].pieces), (2, 2))
        self.assertEqual(told["part"].outlines[0][0][0] in (0, 400), True)
        self.assertAlmostEqual(told["part"].weld_mm["butt"], 150, delta=0.2)
        self.assertEqual(sum(told["whole"].release.values()), 35)
        self.assertGreaterEqual(told["whole"].plugs, 35)
        self.assertEqual(
            (
                told["whole"].kept,
                told["whole"].weld_mm["butt"],
                told["whole"].days,
                told["whole"].cost["panel"],
            ),
            (0, 0, 14, 80),
        )
        self.assertGreater(told["patches"].kept, told["part"].kept)
        for option in told.values():
            for corners, outline in zip(option.corners, option.outlines, strict=True):
                self.assertLess(
                    shaped_cut(corners, SILL, 10).symmetric_difference(Polygon(outline)).area,
                    2.1 * (1 - 3.1416 / 4) * 100,
                    option.name,
                )  # two roundings at a seam
        self.assertAlmostEqual(told["patches"].money, sum(told["patches"].cost.values()), places=2)
        self.assertAlmostEqual(told["patches"].hours * 60, sum(told["patches"].minutes.values()), delta=0.5)

    def test_many_holes_make_the_panel_win_and_the_price_says_until_when(self):
        many = [hole(60 + 160 * i, 40) for i in range(8)]
        paid = {"weights": {"money": 5, "hours": 1, "originality": 0, "looks": 0}, "prices": {"hour": 20}}
        told = cut_options(asked(*many, whole={"price": 95, "days": 7}, **paid))
        self.assertEqual(told.best, "whole")
        self.assertRegex(told.turns[0], r"The whole panel wins as long as it costs less than \d+\.")
        limit = float(told.turns[0].split()[-1].rstrip("."))
        for price, best in ((limit * 0.98, "whole"), (limit * 1.03, "other")):
            again = cut_options(asked(*many, whole={"price": price, "days": 7}, **paid))
            self.assertEqual("whole" if again.best == "whole" else "other", best)
        few = cut_options(asked(hole(60, 40), whole={"price": 95, "days": 7}))
        self.assertNotEqual(few.best, "whole")
        self.assertRegex(few.tips, " before .*: it is better in ")
        turns = "".join(cut_options(asked(*many, whole={"price": 95, "days": 7}, currency="GBP")).turns)
        self.assertRegex(turns, r"With an hour at \d+ GBP, the whole panel wins")

    def test_what_nobody_sells_comes_last(self):
        told = cut_options(
            asked(
                hole(60, 40),
                whole={"price": 5, "days": None},
                weights={"money": 10, "hours": 10, "originality": 0, "looks": 0},
            )
        )
        self.assertEqual((told.options[-1].name, told.options[-1].why_not), ("whole", "Nobody sells it."))

    def test_a_plan_of_ones_own_is_compared_and_rust_left_outside_is_said(self):
        good, bad = [hole(40, 20, 120, 100)], [hole(70, 45, 10, 10)]
        told = by_name(
            cut_options(
                asked(
                    hole(60, 40), own=[{"name": "mine", "outlines": good}, {"name": "short", "outlines": bad}]
                )
            )
        )
        self.assertTrue(told["mine"].possible)
        self.assertEqual((told["short"].possible, told["short"].why_not), (False, "Rust is left outside it."))
        for refused in (asked(hole(60, 40), own=[{"name": "whole", "outlines": good}]), asked()):
            with self.assertRaises(BadField):
                cut_options(refused)

    def test_the_log_of_this_shell_draws_a_rate_from_the_first_job_on(self):
        usual = by_name(cut_options(asked(hole(60, 40))))["patches"].minutes["make"]
        for jobs, factor in ((0, 1.0), (1, 1.225), (3, 1.355)):
            told = cut_options(asked(hole(60, 40), logged={"make": {"jobs": jobs, "factor": 1.5}}))
            patches = by_name(told)["patches"]
            self.assertAlmostEqual(patches.minutes["make"], usual * factor, delta=0.2)
            self.assertEqual(
                (patches.thumb["make"], told.corrected), (usual, {"make": factor} if jobs else {})
            )

    def test_the_next_job_is_told_nearer_than_by_the_rates_alone_or_by_waiting_for_three(self):
        rng, miss = Random(6), defaultdict(float)
        for _ in range(3000):
            pace, n = rng.gauss(0, 0.5), rng.randint(1, 6)
            planned = [exp(rng.gauss(4, 0.7)) for _ in range(n + 1)]
            spent = [minutes * exp(pace + rng.gauss(0, 0.4)) for minutes in planned]
            logged = logged_factor(zip(planned[:n], spent[:n], strict=True))
            for name, factor in (
                ("drawn", logged.shrunk),
                ("rates", 1.0),
                ("wait", logged.factor if n >= 3 else 1.0),
                ("log", logged.factor),
            ):
                miss[name] += abs(log(planned[n] * factor / spent[n]))
        self.assertEqual(min(miss, key=miss.get), "drawn", dict(miss))

    def test_a_loose_shell_and_a_weld_far_from_any_fold_count_against_a_plan(self):
        held, loose = (
            cut_options(asked(hole(60, 40), hold={"patches": verdict})).options
            for verdict in ("HELD", "LOOSE")
        )
        score = lambda options: next(option.score for option in options if option.name == "patches")
        self.assertGreater(score(loose), score(held))
        bare, swaged = (
            by_name(cut_options(asked(hole(660, 60), stiff=lines)))["patches"].pull
            for lines in ([], [[[0, 75], [1400, 75]]])
        )
        self.assertLess(swaged, bare)

    def test_bars_compare_each_figure_with_the_largest(self):
        told = cut_options(asked(hole(60, 40), hole(300, 40), whole={"price": 80, "days": 14}))
        bars = shares(told.options)
        self.assertEqual(set(bars), set(by_name(told)))
        for what, figure in (
            ("money", lambda plan: plan.money),
            ("hours", lambda plan: plan.hours),
            ("weld", lambda plan: plan.weld_mm["butt"]),
        ):
            most = max(figure(plan) for plan in told.options)
            for plan in told.options:
                self.assertAlmostEqual(bars[plan.name][what], 100 * figure(plan) / most, delta=0.06)
        self.assertEqual(
            {name: bar["spots"] for name, bar in bars.items()},
            dict.fromkeys(bars, 0.0),
            "no spot welds, no bar",
        )
        self.assertEqual(shares([]), {})

    def test_the_hold_ranks_again_as_if_it_had_been_asked_with_it(self):
        holes = [hole(60 + 160 * i, 40) for i in range(6)]
        more = {
            "whole": {"price": 30, "days": 2},
            "weights": {"money": 5, "hours": 5, "originality": 0, "looks": 0},
        }
        verdicts = {"patches": "HELD", "merged": "SOFT", "part": "HELD", "whole": "LOOSE"}
        self.assertEqual(
            with_hold(asked(*holes, **more), cut_options(asked(*holes, **more)), verdicts),
            cut_options(asked(*holes, hold=verdicts, **more)),
        )

    def test_a_part_panel_ends_on_the_nearest_seams(self):
        seams = [LineString([(x, 0), (x, 150)]) for x in (300, 700, 1100)]
        panel, rust = Polygon(SILL), Polygon(hole(450, 40))
        self.assertEqual(part_panels(panel, rust, seams)[0].bounds, (300, 0, 700, 150))
        self.assertEqual(part_panels(panel, Polygon(hole(30, 40)), [])[0].bounds, (0, 0, 80, 150))
        self.assertEqual(part_panels(panel, Polygon(hole(600, 40)), [])[0].bounds, (600, 0, 650, 150))

    @settings(deadline=None, max_examples=40)
    @given(
        st.lists(
            st.tuples(st.floats(-20, 1380), st.floats(-20, 130), st.floats(8, 90), st.floats(8, 60)),
            min_size=1,
            max_size=8,
        ),
        st.floats(0, 25),
    )
    def test_no_rust_stays_in_the_shell_and_nothing_off_the_panel_is_cut(self, boxes, margin):
        holes = [hole(*each) for each in boxes if Polygon(hole(*each)).intersection(Polygon(SILL)).area > 1]
        if not holes:
            return
        told = cut_options(asked(*holes, margin_mm=margin, seams=[[[500, 0], [500, 150]]]))
        rust, panel = (
            unary_union([Polygon(each) for each in holes]).intersection(Polygon(SILL)),
            Polygon(SILL),
        )
        for option in told.options:
            cut = unary_union([Polygon(each) for each in option.outlines])
            self.assertLess(rust.difference(cut.buffer(0.02)).area, 0.5, option.name)
            self.assertLess(cut.difference(panel.buffer(0.02)).area, 0.5, option.name)
            self.assertTrue(0 <= option.kept <= 1 and 0 <= option.pull <= 1)
