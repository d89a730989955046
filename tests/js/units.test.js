import assert from "node:assert/strict";
import test from "node:test";

import { ticked, ticks } from "frame/board/rulers.js";
import { sampled } from "frame/board/pen.js";
import { boundsOf, lineD, pathD, widened } from "frame/board/svg.js";
import { spread } from "frame/board/tags.js";
import { fraction, typed, typedCorners, typedPlace, writtenCorners } from "frame/board/units.js";
import { countOf, firstOpen, stepOf } from "datums/walk.js";

test("lengths are read as people type them", () => {
  for (const [text, mm] of [
    ["684", 684],
    ["684,5", 684.5],
    ["2 in", 50.8],
    ['2"', 50.8],
    ["1/2", 12.7],
    ["2 11/64", 55.165625],
    ["-1/4", -6.35],
    ["12 mm", 12],
  ])
    assert.ok(Math.abs(typed(text) - mm) < 1e-9, `${text} is ${mm} mm`);
  for (const text of ["", "a", "1 2", "3 ft"]) assert.ok(Number.isNaN(typed(text)), text);
});

test("a fraction is what a rule shows, in lowest terms", () => {
  assert.deepEqual([0, 1, 0.5, 2.171875, -0.25, 1 / 512].map(fraction), [
    "0",
    "1",
    "1/2",
    "2 11/64",
    "-1/4",
    "0",
  ]);
});

test("corners come back as they were written, and lines that cannot be read are left to the server", () => {
  const corners = [
    [684, 292.5],
    [-12.5, 0],
    [830, 276],
  ];
  assert.deepEqual(typedCorners(writtenCorners(corners)), corners);
  assert.deepEqual(typedCorners("1, 2\n\nnonsense\n3 4\n5;6\n7,5; 8"), [
    [1, 2],
    [3, 4],
    [5, 6],
    [7.5, 8],
  ]);
  assert.equal(typedPlace("1, 2, 3"), null);
});

test("rulers have a figure every large tick, far enough apart at every zoom", () => {
  for (const k of [0.05, 0.3, 1, 4, 20]) {
    const [small, large] = ticks(k);
    assert.ok(large * k >= 62 || large === 1000);
    assert.equal(large % small, 0);
    const found = ticked(-3 * large, 3 * large, [small, large], (mm) => mm * k).filter((tick) => tick.large);
    assert.deepEqual(
      found.map((tick) => tick.mm / large),
      [-3, -2, -1, 0, 1, 2, 3],
    );
  }
});

test("labels of one row keep their distance and stay in the field", () => {
  for (const anchors of [[], [5], [10, 12, 14], [480, 490, 499], [0, 500]]) {
    const xs = spread(anchors, 30, 470, 50);
    assert.equal(xs.length, anchors.length);
    xs.forEach((x, i) => assert.ok(x <= 470 && (i === 0 || x - xs[i - 1] >= 50)));
  }
});

test("outlines as path data, their bounds, and places along them", () => {
  const ring = [
    [0, 0],
    [30, 0],
    [30, 20],
  ];
  assert.equal(pathD(ring), "M0 0L30 0L30 -20Z");
  assert.equal(pathD(ring, false), "M0 0L30 0L30 -20");
  assert.equal(pathD([]), "");
  assert.equal(lineD([0.04, 1], [2.06, 3]), "M0 1L2.1 3");
  assert.deepEqual(boundsOf(ring), [0, 0, 30, 20]);
  assert.deepEqual(widened([0, 0, 30, 20], 0.1, 5), [-5, -5, 35, 25]);
  const places = sampled(ring, true, 9);
  assert.deepEqual(places.at(-1), [0, 0]);
  for (const corner of ring) assert.ok(places.some((place) => String(place) === String(corner)));
  places.slice(1).forEach(([x, y], i) => assert.ok(Math.hypot(x - places[i][0], y - places[i][1]) < 14));
});

test("a walk goes on to what is not read, and finds a reading whichever way round it is named", () => {
  const step = (kind, points, mean = "") => ({
    kind,
    points,
    mean,
    values: mean ? [{ pk: 1, struck: "" }] : [],
  });
  const steps = [
    step("height", ["2L"], "3"),
    step("distance", ["2L", "9R"]),
    step("angle", ["A", "B", "C"], "90"),
  ];
  assert.equal(firstOpen(steps), 1);
  assert.equal(firstOpen(steps, 2), 1, "from the start again");
  assert.equal(firstOpen([steps[0]]), -1);
  assert.equal(stepOf(steps, "distance", ["9R", "2L"]), 1);
  assert.equal(stepOf(steps, "angle", ["C", "B", "A"]), -1);
  assert.notEqual(
    countOf(steps),
    countOf([{ ...steps[0], values: [{ pk: 1, struck: "slip" }] }, ...steps.slice(1)]),
  );
});
