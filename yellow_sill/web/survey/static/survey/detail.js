/** The enlarged detail of the chosen finding, with its width and height. */
import { dimension } from "frame/board/dimension.js";
import { mount } from "frame/board/page.js";
import { boundsOf, pageData, widened } from "frame/board/svg.js";
import { figure } from "frame/board/units.js";
import { Viewport } from "frame/board/viewport.js";
import { forgetSent } from "survey/draft.js";

const EDGE_SHARE = 0.35,
  LEAST_EDGE_MM = 30,
  OFF_PX = 26;

class Detail {
  /** @param {SVGSVGElement} svg */
  constructor(svg) {
    const own = boundsOf(pageData(svg.dataset.outline)),
      [u0, v0, u1, v1] = own;
    const viewport = new Viewport(svg, {
      bounds: widened(own, EDGE_SHARE, LEAST_EDGE_MM),
      rulers: false,
      pad: [4, 4, 4, 4],
    });
    viewport.onChange(() => {
      const [a, b, c] = [viewport.px(u0, v0), viewport.px(u1, v0), viewport.px(u1, v1)];
      viewport.overlay.replaceChildren(
        dimension(a, b, OFF_PX, figure(u1 - u0)),
        dimension(b, c, OFF_PX, figure(v1 - v0)),
      );
    });
  }
}

mount("[data-detail]", Detail);
forgetSent();
