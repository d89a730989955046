"""A sketch as a DXF file in millimetres."""

import io

from ..patch.rims import bulge
from .sketch import PENS, Disc, Label, Rim, Sketch


def dxf_file(sketch: Sketch) -> str:
    """The sketch as DXF R2010, units millimetres, arcs as arcs; layers CUT, BEND_UP, BEND_DOWN, MARK, TEXT and those of other drawings.

    Returns: the file's text.
    """
    import ezdxf  # half a second to import, and only this format needs it

    document = ezdxf.new("R2010", setup=True)
    document.units = ezdxf.units.MM
    model = document.modelspace()
    for item in sketch.items:
        if isinstance(item, Label):
            text = model.add_text(item.text, height=item.height_mm, dxfattribs={"layer": "TEXT"})
            text.set_placement(item.at, align=ezdxf.enums.TextEntityAlignment.MIDDLE_CENTER)
            continue
        pen = PENS[item.pen]
        if pen.layer not in document.layers:
            document.layers.add(pen.layer, linetype="DASHED" if pen.dash_mm else "CONTINUOUS")
        attributes = {"layer": pen.layer}
        if isinstance(item, Rim):
            starts = [item.start, *(piece.to for piece in item.pieces[:-1])]
            corners = [(*at, bulge(at, piece)) for at, piece in zip(starts, item.pieces, strict=True)]
            if not item.closed:
                corners.append((*item.pieces[-1].to, 0.0))
            model.add_lwpolyline(corners, format="xyb", close=item.closed, dxfattribs=attributes)
        elif isinstance(item, Disc):
            model.add_circle(item.centre, item.radius_mm, dxfattribs=attributes)
        else:
            model.add_lwpolyline(item.points, close=item.closed, dxfattribs=attributes)
    stream = io.StringIO()
    document.write(stream)
    return stream.getvalue()
