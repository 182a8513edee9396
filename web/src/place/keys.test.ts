import { afterEach, describe, expect, it } from "vitest";
import type { PlacedDecal, Structure } from "../api/client";
import type { Editor } from "../site/editor";
import { applyOperations } from "../site/patch";
import { useView } from "../site/store";
import { clear, documentWith, made } from "../testing/onSite";
import { nudge } from "./keys";

const crate = (id: string, values: object = {}) =>
  made<Structure>("Structure", { id, name: id, source: { kind: "kit_piece", item: "crate", variant: 0 }, ...values });

function picked(...objects: Structure[]) {
  let document = documentWith({ structures: objects });
  const steps: { label: string; gesture: string }[] = [];
  useView.setState({
    picked: { part: "structures", id: objects[0].id },
    alsoPicked: objects.slice(1).map((o) => o.id),
  });
  const editor = {
    state: () => ({ document }),
    commit(label: string, operations: never[], gesture = "") {
      steps.push({ label, gesture });
      document = applyOperations(document, operations);
    },
  } as unknown as Editor;
  const press = (key: string, at: number, shiftKey = false) => {
    const event = new KeyboardEvent("keydown", { key, shiftKey });
    Object.defineProperty(event, "timeStamp", { value: at });
    nudge(event, editor);
  };
  return {
    press,
    steps,
    placement: (row = 0) => document.structures[row].placement,
    count: () => document.structures.length,
  };
}

afterEach(clear);

describe("keys move what is picked", () => {
  it("by five centimetres and five degrees, ten times that with Shift", () => {
    const { press, placement } = picked(crate("a"));
    press("ArrowRight", 1000);
    press("PageUp", 1100, true);
    press(",", 1200);
    expect(placement().position[0]).toBeCloseTo(0.05, 6);
    expect(placement().position[1]).toBeCloseTo(0.5, 6);
    expect(placement().turn).toBeCloseTo(5, 6);
  });

  it("as one step while presses follow one another, however late the page hears of them", () => {
    const { press, steps } = picked(crate("a"));
    for (const at of [5000, 5300, 6100, 6950]) press("ArrowLeft", at);
    expect(new Set(steps.map((one) => one.gesture)).size).toBe(1);
    press("ArrowLeft", 7900);
    expect(new Set(steps.map((one) => one.gesture)).size).toBe(2);
    expect(steps[0].gesture).not.toBe("");
  });

  it("all of it but what is locked", () => {
    const { press, placement, steps } = picked(crate("a"), crate("b", { locked: true }));
    press("ArrowDown", 20_000);
    expect(placement(0).position[2]).toBeCloseTo(0.05, 6);
    expect(placement(1).position[2]).toBe(0);
    expect(steps[0].label).toBe("Move a");
  });

  it("and take it away", () => {
    const { press, count, steps } = picked(crate("a"), crate("b"));
    press("Delete", 30_000);
    expect(count()).toBe(0);
    expect(steps).toHaveLength(1);
    expect(useView.getState().picked).toBeNull();
  });
});

describe("a picked decal", () => {
  it("is moved along its own sheet, spun and deleted by keys", () => {
    const decal = made<PlacedDecal>("PlacedDecal", {
      id: "d",
      name: "Poster",
      placement: { position: [0, 1, 0], turn: 0, tip: 90, roll: 0 },
    });
    let document = documentWith({ decals: [decal], structures: [] });
    useView.setState({ picked: { part: "decals", id: "d" }, alsoPicked: [] });
    const editor = {
      state: () => ({ document }),
      commit: (_: string, operations: never[]) => (document = applyOperations(document, operations)),
    } as unknown as Editor;
    const press = (key: string, shiftKey = false) => nudge(new KeyboardEvent("keydown", { key, shiftKey }), editor);
    press("ArrowUp");
    press("ArrowRight", true);
    expect(document.decals[0].placement.position).toEqual([0.5, 1.05, 0]);
    press("PageUp");
    expect(document.decals[0].placement.position).toEqual([0.5, 1.05, 0.05]);
    press(",");
    expect(document.decals[0].spin).toBe(5);
    press("Delete");
    expect(document.decals).toHaveLength(0);
    expect(useView.getState().picked).toBeNull();
  });
});
