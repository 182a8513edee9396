import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it } from "vitest";
import type { Structure, SurfaceEntry } from "../api/client";
import { useDocument } from "../site/context";
import { clear, made, onSite } from "../testing/onSite";
import { PartsOf } from "./PartsOf";

afterEach(clear);

const brought = (values: object = {}) =>
  made<Structure>("Structure", {
    id: "chest",
    name: "Chest",
    source: { kind: "imported", mesh: "a".repeat(64), textures: "b".repeat(64), file_name: "chest.glb" },
    ...values,
  });

/** The parts of the first object, as its surface tells them. */
function Parts({ wrapped }: { wrapped: boolean[] }) {
  const structure = useDocument().structures[0];
  const surface = { parts: ["lid"], materials: ["rock"], wrapped, grades: [{}] } as unknown as SurfaceEntry;
  return <PartsOf structure={structure} path="/structures/0" surface={surface} />;
}

describe("a part that came with a texture", () => {
  it("says what it weathers as, and shows that in place of its texture if asked", async () => {
    const { document } = onSite(<Parts wrapped={[true]} />, { structures: [brought()] });
    expect(screen.getByLabelText("Lid weathers as")).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Show this in place of its texture" }));
    expect(document().structures[0].materials).toEqual({ lid: "rock" });
  });

  it("shows its texture again", async () => {
    const structures = [brought({ materials: { lid: "rock" } })];
    const { document } = onSite(<Parts wrapped={[false]} />, { structures });
    expect(screen.getByLabelText("Material of lid")).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Show its own texture" }));
    expect(document().structures[0].materials).toEqual({});
  });
});
