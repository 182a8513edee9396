import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Grass } from "../api/client";
import { useDocument } from "../site/context";
import { newGrass } from "../site/layers";
import { clear, documentWith, made, onSite, SITE, vocabulary } from "../testing/onSite";
import { GrassBench } from "./GrassBench";

afterEach(() => {
  vi.unstubAllGlobals();
  clear();
});

const turf = (values: object = {}) => made<Grass>("Grass", { id: "turf", name: "Turf", density: 2600, ...values });
const Shown = () => <GrassBench layer={useDocument().grass[0]} path="/grass/0" vocabulary={vocabulary} />;
const scene = (values: object) => ({
  surfaces: [],
  scatters: [],
  grass: [{ layer: "turf", surface: "ground", blades: "k", density: 2600, wide: 1, expected: 1_234_000, ...values }],
});

describe("the bench of a layer of grass", () => {
  it("says about how many blades there are, and what they take", async () => {
    onSite(<Shown />, { grass: [turf()] }, [[["scene", SITE, 1], scene({})]]);
    expect((await screen.findByTestId("blade-count")).textContent).toContain("1.23 M");
    expect(screen.getByText(/29.6 MB on a graphics card/)).toBeTruthy();
  });

  it("says so where there would be too many", async () => {
    onSite(<Shown />, { grass: [turf()] }, [[["scene", SITE, 1], scene({ density: 650, wide: 4 })]]);
    expect(await screen.findByText(/too many: 650 \/m² in their place, each 4 times as wide/)).toBeTruthy();
  });

  it("asks how high it is cut only where it is mown", async () => {
    const { document } = onSite(<Shown />, { grass: [turf()] });
    expect(screen.queryByLabelText(/Cut at/)).toBeNull();
    await userEvent.click(screen.getByRole("switch", { name: "Mown" }));
    expect(document().grass[0].mown).toBe(true);
    expect(screen.getAllByLabelText(/Cut at/).length).toBeGreaterThan(0);
  });

  it("begins as a preset has it, under a name of its own, on what is asked for", () => {
    const made = newGrass(documentWith({ grass: [turf({ name: "Lawn" })] }), turf({ name: "Lawn", mown: true }), [
      "roof",
    ]);
    expect(made).toMatchObject({ name: "Lawn 2", mown: true, surfaces: ["roof"] });
    expect(made.id).not.toBe("turf");
  });
});
