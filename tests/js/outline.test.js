import assert from "node:assert/strict";
import test from "node:test";

import { Outline, snapTo } from "frame/board/outline.js";

const SQUARE = [
  [0, 0],
  [100, 0],
  [100, 100],
  [0, 100],
];

test("a place snaps to the nearest edge within reach, and an open line has no edge back to its start", () => {
  assert.deepEqual(snapTo([SQUARE], [40, 3], 10), [40, 0]);
  assert.deepEqual(snapTo([SQUARE], [-2, 50], 10), [0, 50], "the edge that closes the ring");
  assert.equal(snapTo([SQUARE], [50, 50], 10), null);
  assert.equal(snapTo([], [-2, 50], 10, [SQUARE]), null);
  assert.deepEqual(
    snapTo([SQUARE], [40, 3], 10, [
      [
        [0, 2],
        [100, 2],
      ],
    ]),
    [40, 2],
    "the nearer of both",
  );
});

test("every way back ends where it began, whatever was done", () => {
  const outline = new Outline(SQUARE),
    seen = [outline.corners];
  const deeds = [
    () => outline.add([50.04, 140]),
    () => outline.insert(1),
    () => outline.move(0, [-5, -5]),
    () => outline.remove(2),
  ];
  for (const deed of deeds) {
    outline.remember();
    deed();
    seen.push(outline.corners);
  }
  assert.deepEqual(seen[1].at(-1), [50, 140], "a corner is kept to a tenth of a millimetre");
  assert.deepEqual(seen[2][2], [100, 50], "a new corner lies in the middle of its edge");
  for (let i = deeds.length - 1; i >= 0; i--) {
    assert.equal(outline.undo(), true);
    assert.deepEqual(outline.corners, seen[i]);
  }
  assert.equal(outline.undo(), false);
  for (let i = 1; i < seen.length; i++) {
    outline.redo();
    assert.deepEqual(outline.corners, seen[i]);
  }
  outline.undo();
  outline.remember();
  outline.add([1, 1]);
  assert.equal(outline.redo(), false, "what was drawn anew stands");
});

test("what is drawn does not change what it was made from", () => {
  const outline = new Outline(SQUARE);
  outline.remember();
  outline.move(0, [9, 9]);
  assert.deepEqual(SQUARE[0], [0, 0]);
});
