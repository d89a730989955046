/** The field in which the corners of a drawing stand as typed, in the coordinates of the shell. */
import { typedCorners, writtenCorners } from "frame/board/units.js";

/** @typedef {import("frame/board/svg.js").Point} Point */

export class CornersField {
  /**
   * @param {HTMLInputElement} input
   * @param {import("frame/board/viewport.js").Viewport} viewport
   */
  constructor(input, viewport) {
    this.input = input;
    this.viewport = viewport;
  }

  /** What can be read of it, mm on the board. @returns {Point[]} */
  get corners() {
    return typedCorners(this.input.value).map((corner) => this.viewport.shell(corner));
  }

  /** Corners of the board, written as a person types them. @param {Point[]} corners mm */
  set corners(corners) {
    this.input.value = writtenCorners(corners.map((corner) => this.viewport.shell(corner)));
  }

  /** @param {() => void} act */
  onTyped(act) {
    this.input.addEventListener("input", act);
  }
}
