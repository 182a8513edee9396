import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it } from "vitest";
import { useDocument } from "../site/context";
import { clear, made, onSite, vocabulary } from "../testing/onSite";
import { LayerStack } from "./LayerStack";
import { newLayer, type Recipe } from "./recipes";

afterEach(clear);

const layer = (name: string, pattern = "clouds") => ({
  ...newLayer(vocabulary.starters.pattern_layer, "pattern", pattern),
  name,
});
const recipe = (...layers: object[]) => ({ ...made<object>("OwnRecipe", {}), kind: "recipe", layers });
const site = (...layers: object[]) => ({
  materials: [{ id: "own-1", name: "My stone", nature: "stone", source: recipe(...layers) }],
});
const PATH = "/materials/0/source";

function Stack({ looked = false }: { looked?: boolean }) {
  const source = useDocument().materials[0].source as Recipe;
  return <LayerStack recipe={source} path={looked ? null : PATH} subject="My stone" />;
}

const names = () =>
  screen
    .getAllByRole("button")
    .filter((one) => one.hasAttribute("aria-expanded"))
    .map((one) => one.firstChild!.textContent);

describe("the layers of a material", () => {
  it("lie with the uppermost first", () => {
    onSite(<Stack />, site(layer("Base"), layer("Grain"), layer("Dirt")));
    expect(names()).toEqual(["Dirt", "Grain", "Base"]);
  });

  it("change places, each step as one of the history", async () => {
    const { commits, document } = onSite(<Stack />, site(layer("Base"), layer("Grain")));
    await userEvent.click(screen.getByRole("button", { name: /^Base/ }));
    expect(screen.getByRole("button", { name: "Move Base down" }).hasAttribute("disabled")).toBe(true);
    await userEvent.click(screen.getByRole("button", { name: "Move Base up" }));
    expect(names()).toEqual(["Base", "Grain"]);
    expect(commits).toHaveLength(1);
    expect(document().materials[0].source).toMatchObject({ layers: [{ name: "Grain" }, { name: "Base" }] });
  });

  it("are added by pattern and open at once; the last one cannot be deleted", async () => {
    const { document } = onSite(<Stack />, site(layer("Base")));
    await userEvent.click(screen.getByRole("button", { name: "Add a layer" }));
    await userEvent.click(screen.getByRole("menuitem", { name: "Cells" }));
    const { layers } = document().materials[0].source as Recipe;
    expect(layers).toHaveLength(2);
    expect(layers[1]).toMatchObject({ kind: "pattern", drawn: { pattern: { kind: "cells" } } });
    const open = screen.getAllByRole("button", { expanded: true });
    expect(open).toHaveLength(1);
    await userEvent.click(screen.getByRole("button", { name: `Delete ${layers[1].name}` }));
    await userEvent.click(screen.getByRole("button", { name: /^Base/ }));
    expect(screen.getByRole("button", { name: "Delete Base" }).hasAttribute("disabled")).toBe(true);
  });

  it("are shown and hidden", async () => {
    const { document, commits } = onSite(<Stack />, site(layer("Base"), layer("Grain")));
    await userEvent.click(screen.getByRole("button", { name: "Hide Grain" }));
    expect((document().materials[0].source as Recipe).layers[1].shown).toBe(false);
    expect(commits[0].label).toBe("My stone: hide Grain");
  });

  it("of a shipped material are looked at alone", () => {
    onSite(<Stack looked />, site(layer("Base"), layer("Grain")));
    expect(screen.queryByRole("button", { name: "Add a layer" })).toBeNull();
    expect(screen.queryByRole("button", { name: /^(Hide|Delete|Move)/ })).toBeNull();
  });

  it("swap their pattern for another with its usual values, and take a mask and leave it", async () => {
    const { document } = onSite(<Stack />, site(layer("Base")));
    const base = () => (document().materials[0].source as Recipe).layers[0] as unknown as Record<string, unknown>;
    await userEvent.click(screen.getByRole("button", { name: /^Base/ }));
    await userEvent.click(screen.getByRole("combobox", { name: /drawn with: pattern/ }));
    await userEvent.click(screen.getByRole("option", { name: "Cells" }));
    expect(base().drawn).toMatchObject({ pattern: { kind: "cells" } });
    await userEvent.click(screen.getByRole("button", { name: "Add a mask" }));
    expect(base().mask).toMatchObject({ pattern: {} });
    await userEvent.click(screen.getByRole("button", { name: "Delete the mask" }));
    expect(base().mask).toBeNull();
  });
});
