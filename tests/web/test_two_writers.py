"""Two people have the same form open, whichever it is: the second is told, and the first one's words stay.

Generated: every form that counts on a version, on every page of the demo, is opened twice, changed in the same field by both, and sent twice.
"""

import re
from html.parser import HTMLParser

from django.db import transaction

from tests.web.test_every_address import DemoCase, addresses
from yellow_sill.web.frame.revision import forget, revision_of

#: What a form counts on: the version of its record, or a mark of what its person saw.
COUNTS_ON = {"version", "since", "was", "step-version"}
#: Pages with forms that are opened by their query.
OPENED = {
    "survey:finding": ("?edit=1", "?again=1"),
    "hold:braces": ("?brace=ATL-BBL",),
    "patch:transfer": ("?mark=1",),
    "cut:around": ("?own=1",),
    "shells:correct": ("?panel=L-SILL",),
    "hold:hold": ("?try=1&out=floor_L",),
    "parts:money": ("?budget=1",),
    "parts:orders": ("?supplier=1",),
    "parts:surplus": ("?thing=3",),
}


class Forms(HTMLParser):
    """The forms of a page: where each goes, and its fields as a browser would send them; ``kinds``: what can be typed or chosen in each."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self.forms: list[dict] = []
        self.inside = self.area = self.select = ""
        self.form: dict | None = None
        self.feed(text)

    def handle_starttag(self, tag, attrs):
        at = dict(attrs)
        if tag == "form":
            self.form = (
                {"action": at.get("action", ""), "values": {}, "kinds": {}}
                if at.get("method", "").lower() == "post"
                else None
            )
            if self.form is not None:
                self.forms.append(self.form)
        if self.form is None:
            return
        name, values, kinds = at.get("name", ""), self.form["values"], self.form["kinds"]
        if tag == "input" and name and at.get("type") not in ("submit", "file", "button"):
            box = at.get("type") in ("checkbox", "radio")
            if not box or "checked" in at:
                values.setdefault(name, []).append(at.get("value") or ("on" if box else ""))
            kinds[name] = at.get("type", "text")
            if kinds[name] == "radio":
                self.form.setdefault("options", {}).setdefault(name, []).append(at.get("value", ""))
        elif tag == "textarea":
            self.area = name
            values[name], kinds[name] = [""], "textarea"
        elif tag == "select":
            self.select = name
            kinds[name] = "select"
        elif tag == "option" and self.select:
            self.form.setdefault("options", {}).setdefault(self.select, []).append(at.get("value", ""))
            if "selected" in at:
                values[self.select] = [at.get("value", "")]
        elif (
            tag == "button"
            and name not in ("", "delete", "remove", "untie", "undo")
            and "formaction" not in at
        ):
            self.form.setdefault("buttons", []).append((name, at.get("value", "")))

    def handle_endtag(self, tag):
        self.area, self.select = (
            ("" if tag == "textarea" else self.area),
            ("" if tag == "select" else self.select),
        )
        if tag == "form":
            self.form = None

    def handle_data(self, data):
        if self.area and self.form is not None:
            self.form["values"][self.area][0] += data.removeprefix("\n")


def another(form: dict, name: str, kind: str, how: int) -> str | None:
    """Another value of a field, each of two people's own; None where it has none."""
    was = (form["values"].get(name) or [""])[0]
    if kind in ("select", "radio"):
        others = [each for each in form.get("options", {}).get(name, ()) if each not in ("", was)]
        return others[how % len(others)] if len(others) > 1 else None
    if name in COUNTS_ON or kind not in ("text", "textarea", "number", "date"):
        return None
    if kind == "date":
        return f"2026-11-0{how + 1}"
    if re.match(r"-?\d+(\.\d+)?$|-?\d+(\.\d+)?[ ,;]+-?\d", was):  # a figure, or the corners of an outline
        return re.sub(
            r"-?\d+(\.\d+)?", lambda found: f"{float(found[0]) * (1 + 0.004 * (how + 1)):.5g}", was, count=1
        )
    return f"{was} {'first' if how == 0 else 'second'}".strip()


def changed(form: dict, how: int) -> list[dict]:
    """The form as one of two people might send it: one of its fields changed; just as it is where there is nothing to type."""
    found = {name: another(form, name, kind, how) for name, kind in form["kinds"].items()}
    return [form["values"] | {name: [value]} for name, value in found.items() if value is not None] or [
        form["values"]
    ]


class TwoWriters(DemoCase):
    def pages(self):
        for name, _ in addresses():
            path = self.all[name]
            if path.startswith("/v/"):
                for query in ("", *OPENED.get(name, ())):
                    yield name, path + query

    def both(self, path: str, form: dict) -> bool:
        """Send a form twice, as two people with the same page open. Returns: whether the first was stored, so that the second was tried."""
        to = form["action"].partition("#")[0] or path
        for first, second in zip(changed(form, 0), changed(form, 1), strict=True):
            button = dict(form.get("buttons", [])[:1])
            point, before = transaction.savepoint(), revision_of(self.vehicle.pk)
            stored = (
                self.client.post(to, first | button).status_code < 400
                and revision_of(self.vehicle.pk) == before + 1
            )
            said = (
                self.client.get(path).content.decode().count("meanwhile")
            )  # any word of the first is told by now
            again = self.client.post(to, second | button, follow=True) if stored else None
            now = revision_of(self.vehicle.pk)
            transaction.savepoint_rollback(point)
            forget()
            if again is None or again.status_code == 422:
                continue  # a value that cannot be stored: another field is tried
            self.assertEqual(now, before + 1, "the second overwrote the first unseen")
            if again.status_code not in (404, 409):
                self.assertGreater(again.content.decode().count("meanwhile"), said, "nothing is told")
            return True
        return False

    def test_the_second_of_two_is_told_whatever_they_change(self):
        tried = set()
        self.client.force_login(self.vehicle.owner)
        for name, path in self.pages():
            page = self.client.get(path)
            if page.status_code != 200 or not page.headers["Content-Type"].startswith("text/html"):
                continue
            for form in Forms(page.content.decode()).forms:
                if COUNTS_ON & set(form["kinds"]):
                    with self.subTest(name, to=form["action"], fields=sorted(form["kinds"])[:8]):
                        if self.both(path, form):
                            tried.add(
                                form["action"].split("/")[-2] if form["action"].startswith("/") else name
                            )
        self.assertLessEqual(
            {"survey:finding", "overrule", "shells:correct", "datums:point", "correct", "from-round", "datums:stands", "hold:braces", "keep",
             "repairs:rules", "cut:around", "move", "patch:patch", "weld:weld", "logbook:log", "logbook:note", "logbook:work", "parts:cost"},
            tried,
        )  # fmt: skip
