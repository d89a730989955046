"""Every address of the application, at once: strangers, odd figures in it, and forms that say nothing or nonsense."""

import tempfile
from collections.abc import Iterator
from datetime import date

from django.db import connection
from django.test import Client, TestCase, override_settings
from django.urls import URLPattern, get_resolver, reverse

from tests.builders import owner
from yellow_sill.demo.build import build
from yellow_sill.web.frame.revision import revision_of
from yellow_sill.web.shells.models import Access, Role

ODD = ("²", "9" * 22, "nan\x00")
#: Every name that a page looks for in its address, so that one visit tries them all.
ASKED = [
    "after", "against", "around", "at", "before", "brace", "by", "corners", "cut", "day", "edit", "ends", "find", "finding", "from", "group", "hour",
    "into", "job", "kind", "layer", "money", "name", "new", "orders", "out", "own", "panel", "part_price", "photo", "point", "process", "q", "repair",
    "round", "seam", "size", "slot", "sort", "stage", "stand", "state", "step", "try", "tube", "value", "version", "view", "whole_days",
    "whole_price",
]  # fmt: skip
NONSENSE = (
    "",
    "null",
    "[]",
    '{"corners": 5, "points": 7, "value": {}, "column": "x", "reading": [], "version": "²"}',
    '{"corners": [["a", 1], [1e308, 2], []]}',
)
OPEN = {
    "accounts:sign_in",
    "accounts:welcome",
    "accounts:join",
    "frame:waiting",
    "frame:who",
    "frame:worker",
    "order:feed",
    "record:given",
}


def addresses(patterns=None, space: str = "") -> Iterator[tuple[str, URLPattern]]:
    for each in get_resolver().url_patterns if patterns is None else patterns:
        if isinstance(each, URLPattern):
            yield f"{space}:{each.name}", each
        else:
            yield from addresses(each.url_patterns, each.app_name or space)


def paths_of(vehicle) -> dict[str, str]:
    """Every address by its name, about what there is of a vehicle."""
    repair = vehicle.repairs.get(number=2)
    looked, drawn = vehicle.survey_photos.first(), vehicle.findings.first().panel
    keys = {
        "survey:photo": looked,
        "survey:photo_file": looked,
        "survey:photo_check": looked,
        "logbook:photo": repair.photos.first(),
    }
    keys |= {
        "parts:cost": repair.cost_lines.filter(receipt=None).first(),
        "survey:panel": drawn,
        "survey:item": drawn,
        "survey:looked_panel": drawn,
        "survey:photo_add": drawn,
    }
    usual = {
        "vehicle_id": vehicle.pk, "number": 2, "cut_number": 1, "mark_number": 1, "nugget": 1, "panel_id": repair.cuts.first().panel_id,
        "view_name": "left", "form": "csv", "key": "nothing", "table": "hours", "code": "2L", "pk": 1, "who": "MQ", "token": "none",
        "offer_number": 1, "page": 1, "kind": "csv", "name": "A1", "sheet": "templates",
    }  # fmt: skip
    found = {}
    for name, pattern in addresses():
        own = {"number": 1} if "/stock/" in str(pattern.pattern) or "/bench/" in str(pattern.pattern) else {}
        chosen = usual | own | ({"pk": keys[name].pk} if keys.get(name) else {})
        found[name] = reverse(name, kwargs={key: chosen[key] for key in pattern.pattern.converters})
    return found


class DemoCase(TestCase):
    """The whole demo, and every address about it in ``all``."""

    @classmethod
    def setUpTestData(cls):
        photos = tempfile.TemporaryDirectory()
        cls.addClassCleanup(photos.cleanup)
        cls.enterClassContext(override_settings(MEDIA_ROOT=photos.name))
        cls.vehicle = build(date(2026, 11, 24))
        cls.all = paths_of(cls.vehicle)


class EveryAddress(DemoCase):
    def setUp(self):
        self.client.force_login(self.vehicle.owner)
        self.client.raise_request_exception = False

    def test_each_is_known_and_most_open(self):
        written = []

        def watch(execute, sql, *more):
            if sql.startswith(("INSERT", "UPDATE", "DELETE")) and "django_session" not in sql:
                written.append(sql[:120])
            return execute(sql, *more)

        with connection.execute_wrapper(watch):
            opened = [name for name, path in self.all.items() if self.client.get(path).status_code == 200]
        self.assertEqual(written, [], "looking at a page stores nothing")
        self.assertGreater(len(opened), 50)
        self.assertFalse(
            {"cut:cut", "cut:options", "hold:hold", "datums:rounds", "logbook:log", "survey:panel"}
            - set(opened)
        )

    def test_strangers_are_let_in_nowhere(self):
        stranger, robin = Client(), Client()
        robin.force_login(owner("Robin"))
        for name, path in self.all.items():
            with self.subTest(name):
                for answer in (stranger.get(path), stranger.post(path)):
                    self.assertTrue(name in OPEN or (answer.status_code == 302 and "/sign-in/" in answer.url))
                if path.startswith("/v/"):
                    self.assertIn(robin.get(path).status_code, (404, 405))
                    self.assertIn(robin.post(path).status_code, (404, 405))

    def test_a_viewer_changes_nothing_and_a_helper_only_what_belongs_to_helping(self):
        shown, changed = {Role.VIEWER: set(), Role.HELPER: set()}, set()
        for role, name in ((Role.VIEWER, "Ivo"), (Role.HELPER, "Juno")):
            somebody, browser = owner(name), Client()
            Access.objects.create(vehicle=self.vehicle, user=somebody, role=role)
            browser.force_login(somebody)
            browser.raise_request_exception = False
            for address, path in self.all.items():
                if not path.startswith("/v/"):
                    continue
                with self.subTest(address, role=name):
                    opened = browser.get(path)
                    if opened.status_code != 405:
                        self.assertEqual(opened.status_code, self.client.get(path).status_code)
                    before = revision_of(self.vehicle.pk)
                    answer = browser.post(path, {"what": "step"})
                    self.assertLess(answer.status_code, 500)
                    if answer.status_code not in (403, 405):
                        shown[role].add(address)
                    if revision_of(self.vehicle.pk) != before:
                        changed.add((name, address))
        asks = {
            "survey:check",
            "survey:photo_check",
            "cut:check",
            "patch:preview",
            "record:lay",
            "patch:folded",
            "patch:nest",
        }
        self.assertEqual(shown[Role.VIEWER], asks)
        self.assertFalse([each for name, each in changed if name == "Ivo"])
        owners = {
            "survey:delete",
            "survey:overrule",
            "logbook:log",
            "parts:cost",
            "repairs:new",
            "cut:cut",
            "cut:move",
            "weld:weld",
            "hold:accept",
        }
        self.assertFalse(owners & shown[Role.HELPER])
        self.assertLessEqual(
            {"survey:new", "survey:reading", "datums:save", "cut:tick", "weld:cautions", "logbook:hours"},
            shown[Role.HELPER],
        )

    def test_odd_figures_in_an_address_break_nothing(self):
        for name, path in self.all.items():
            for odd in ODD:
                with self.subTest(name, odd=odd[:8]):
                    self.assertLess(self.client.get(path, dict.fromkeys(ASKED, odd)).status_code, 500)

    def test_empty_and_nonsensical_forms_are_refused_or_change_nothing(self):
        for name, path in self.all.items():
            if "delete" in name or name == "accounts:sign_out":
                continue
            with self.subTest(name):
                for odd in ("", *ODD[:2]):
                    self.assertLess(
                        self.client.post(path, dict.fromkeys(ASKED, odd) if odd else {}).status_code, 500
                    )
                for body in NONSENSE:
                    answer = self.client.post(
                        path, body, content_type="application/json", headers={"Accept": "application/json"}
                    )
                    self.assertLess(answer.status_code, 500)
        self.vehicle.refresh_from_db()
        self.assertEqual((str(self.vehicle), self.vehicle.repairs.count()), ("Marrick Dunlin", 5))
