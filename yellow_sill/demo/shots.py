"""Pictures of the main views, from the demo vehicle, for docs/screenshots."""

import os
import shutil
import tempfile
import threading
from pathlib import Path

BROWSER_ARGUMENTS = [
    "--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-component-update", "--disable-sync", "--no-first-run",
]  # fmt: skip

#: name, path, size, script to run before the picture
VIEWS = [
    ("today", "/v/1/", (1280, 800), ""),
    ("survey", "/v/1/survey/left/", (1280, 800), ""),
    ("section", "/v/1/section/?axis=x&at=1300", (1280, 800), ""),
    ("repairs", "/v/1/repairs/", (1280, 800), ""),
    ("cut", "/v/1/repairs/2/cut/", (1280, 800), ""),
    (
        "panel-ways",
        "/v/1/repairs/4/options/?whole_price=95&whole_days=14&part_price=58&part_days=6&hour=15&steel_kg=4&money=3&hours=3&originality=2&looks=2",
        (1280, 800),
        "",
    ),
    ("patch", "/v/1/repairs/3/patch/", (1280, 800), ""),
    ("fit", "/v/1/repairs/1/fit/?cut=1&offer=1", (1280, 800), ""),
    ("nest", "/v/1/stock/plan/1/", (1280, 800), ""),
    (
        "weld",
        "/v/1/repairs/2/weld/?cut=3",
        (1280, 800),
        "const r = document.querySelector('[data-stepper] input'); r.value = 13; r.dispatchEvent(new Event('input'))",
    ),
    ("protect", "/v/1/repairs/2/protect/", (1280, 800), ""),
    (
        "before-after",
        "/v/1/before-and-after/",
        (1280, 800),
        "const r = document.querySelector('[data-share]'); r.value = 640; r.dispatchEvent(new Event('input'))",
    ),
    ("time-line", "/v/1/time-line/", (1280, 800), ""),
    ("datums", "/v/1/datums/underside/?round=1&point=2L", (1280, 800), ""),
    (
        "hold",
        "/v/1/hold/?try=1&out=floor_L&out=sill_inner_L&out=sill_outer_L&out=sill_diaph_L&brace=ATL-BBL&brace=ABL-BWL&brace=TWL-TWR&brace=ATR-BBL"
        "&stand=RBL&stand=RBR&stand=RHL&stand=RHR",
        (1280, 800),
        "",
    ),
    ("weeks", "/v/1/plan/?step=R4:round", (1280, 800), ""),
    ("wanted", "/v/1/parts/", (1280, 800), ""),
    ("money", "/v/1/parts/money/", (1280, 800), ""),
    ("round-tablet", "/v/1/datums/round/1/?key=distance%202L%209R", (820, 1180), ""),
]


def chromium_path() -> str:
    return shutil.which("chromium") or shutil.which("chromium-browser") or "/usr/bin/chromium"


def take(folder: Path) -> None:
    """Build the demo in a folder of its own, serve it on a free port and take every picture."""
    with tempfile.TemporaryDirectory() as home:
        os.environ["YELLOW_SILL_DEMO_HOME"] = str(Path(home) / "demo")
        os.environ["DJANGO_SETTINGS_MODULE"] = "yellow_sill.settings.demo"
        import django

        django.setup()
        from django.core.wsgi import get_wsgi_application
        from playwright.sync_api import sync_playwright
        from waitress import create_server

        from yellow_sill.__main__ import build_demo

        build_demo()
        server = create_server(get_wsgi_application(), host="127.0.0.1", port=0, threads=4)
        threading.Thread(target=server.run, daemon=True).start()
        folder.mkdir(parents=True, exist_ok=True)
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=chromium_path(), args=BROWSER_ARGUMENTS)
            for name, path, (width, height), script in VIEWS:
                page = browser.new_page(viewport={"width": width, "height": height})
                page.goto(f"http://127.0.0.1:{server.effective_port}{path}", wait_until="networkidle")
                if script:
                    page.evaluate(script)
                page.wait_for_timeout(700)
                page.screenshot(path=folder / f"{name}.png")
                page.close()
                print(folder / f"{name}.png")
            browser.close()
        server.close()
