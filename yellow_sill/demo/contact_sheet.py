"""Contact sheets of every body type, each view at its usual, its smallest and its largest dimensions: to be looked at picture by picture."""

from collections.abc import Iterator
from pathlib import Path

from yellow_sill.core.errors import BadField
from yellow_sill.core.shell import BODY_TYPES, LAYERS, View, build_shell, ranges

from .shots import BROWSER_ARGUMENTS, chromium_path

TONES = ("#f0f3f4", "#e4e9eb", "#d5dcdf", "#c5ced2")
WIDTH, MARGIN = 560, 70


def sizes_at(kind: str, end: int) -> dict[str, float]:
    """Dimensions at one end of what the others leave them, one after the other. Args: end: 0 for the smallest, 1 for the largest."""
    sizes: dict[str, float] = {}
    for dimension in BODY_TYPES[kind].dimensions:
        if found := ranges(kind, sizes)[dimension.name]:
            tried = sizes | {dimension.name: float(round(found[end] + (1 if end == 0 else -1)))}
            try:
                build_shell(kind, tried)
            except BadField:
                continue
            sizes = tried
    return sizes


def pictures() -> Iterator[tuple[str, str, list[tuple[str, str]]]]:
    """Body type, how large, and its views: title and drawing."""
    for kind in BODY_TYPES:
        for words, sizes in (("usual", {}), ("smallest", sizes_at(kind, 0)), ("largest", sizes_at(kind, 1))):
            drawn = []
            for view in build_shell(kind, sizes).views:
                for layer in range(1, len(LAYERS) + 1) if view.layered else (0,):
                    title = f"{view.title}, {LAYERS[layer - 1]}" if layer else view.title
                    drawn.append((title, _drawing(view, layer)))
            yield kind, words, drawn


def _path(points, closed: bool) -> str:
    return "M" + "L".join(f"{u:g} {-v:g}" for u, v in points) + ("Z" if closed else "")


def _drawing(view: View, layer: int) -> str:
    """One layer of a view as SVG; 0 for all of them."""
    u0, v0, u1, v1 = view.bounds
    out = []
    for panel in sorted((p for p in view.panels if layer in (0, p.layer)), key=lambda p: p.tone or 0.5):
        shape = _path(panel.outline, True) + "".join(_path(hole, True) for hole in panel.holes)
        out.append(
            f'<path d="{shape}" fill="{TONES[panel.tone]}" fill-rule="evenodd" stroke="#14181b" stroke-width="4"/>'
        )
    for feature in view.features:
        if layer and feature.layer not in (0, layer):
            continue
        if feature.kind == "weld":
            dots = "".join(f"M{u:g} {-v:g}h.1" for u, v in feature.points)
            out.append(f'<path d="{dots}" stroke="#8c3a2b" stroke-width="8" stroke-linecap="round"/>')
        else:
            dash = (
                ' stroke-dasharray="20 12"' if feature.kind in ("hidden", "centre", "tyre", "beyond") else ""
            )
            out.append(
                f'<path d="{_path(feature.points, feature.closed)}" fill="none" stroke="#566167" stroke-width="2.5"{dash}/>'
            )
    for part in view.silhouette:
        out.append(
            f'<path d="{"".join(_path(ring, True) for ring in part)}" fill="none" stroke="#14181b" stroke-width="8"/>'
        )
    box = f"{u0 - MARGIN:g} {-v1 - MARGIN:g} {u1 - u0 + 2 * MARGIN:g} {v1 - v0 + 2 * MARGIN:g}"
    return f'<svg xmlns="http://www.w3.org/2000/svg" width="{WIDTH}" viewBox="{box}">{"".join(out)}</svg>'


def take(folder: Path) -> None:
    """One picture a body type and size, in a folder."""
    from playwright.sync_api import sync_playwright

    folder.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=chromium_path(), args=BROWSER_ARGUMENTS)
        page = browser.new_page(viewport={"width": 3 * (WIDTH + 20), "height": 800})
        for kind, words, drawn in pictures():
            cells = "".join(f"<figure><figcaption>{title}</figcaption>{svg}</figure>" for title, svg in drawn)
            style = "body{margin:8px;font:15px sans-serif}main{display:grid;grid-template-columns:repeat(3,1fr)}figure{margin:4px}"
            page.set_content(f"<style>{style}</style><h1>{kind}, {words}</h1><main>{cells}</main>")
            page.screenshot(path=folder / f"{kind}-{words}.png", full_page=True)
            print(folder / f"{kind}-{words}.png")
        browser.close()
