import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { PlacedDecal, Structure } from "../api/client";
import { defaultsOf, defaultsOfGroup } from "../api/declared";
import { boxMatrix } from "../site/decalBox";
import { useDocument } from "../site/context";
import { useView } from "../site/store";
import { clear, made, onSite, vocabulary } from "../testing/onSite";
import { DecalBench } from "./DecalBench";

afterEach(() => {
  vi.unstubAllGlobals();
  clear();
});

const crate = made<Structure>("Structure", {
  id: "crate",
  name: "Crate",
  source: { kind: "kit_piece", item: "crate", variant: 0 },
  placement: { position: [3, 0, 1], turn: 90, tip: 0, roll: 0, size: 2 },
});
const decal = (id: string, values: object = {}) =>
  made<PlacedDecal>("PlacedDecal", { id, name: `Decal ${id}`, ...values });
const Shown = ({ row = 0 }: { row?: number }) => {
  const document = useDocument();
  return <DecalBench layer={document.decals[row]} path={`/decals/${row}`} vocabulary={vocabulary} />;
};
const show = (decals: PlacedDecal[], row = 0) => onSite(<Shown row={row} />, { decals, structures: [crate] });
const choose = async (field: string, option: string) => {
  await userEvent.click(screen.getByRole("combobox", { name: field }));
  await userEvent.click(within(screen.getByRole("listbox")).getByText(option));
};

describe("the bench of a decal", () => {
  it("stays where it is when it comes to follow an object", async () => {
    const { document } = show([decal("a", { placement: { position: [1, 0.5, 2], turn: 30, tip: 90, roll: 0 } })]);
    const before = boxMatrix(document().decals[0], null);
    await choose("Follows", "Crate");
    const after = document().decals[0];
    expect(after).toMatchObject({ object: "crate", width: 0.5, height: 0.5, reach: 0.2 });
    boxMatrix(after, crate.placement).elements.forEach((value, k) => expect(value).toBeCloseTo(before.elements[k], 3));
  });

  it("says that its object is gone, and keeps it", () => {
    show([decal("a", { object: "was_here" })]);
    expect(screen.getByText(/Its object is gone: it is kept/)).toBeTruthy();
  });

  it("shows another kind with what that begins with", async () => {
    const { document, commits } = show([decal("a")]);
    await choose("Shows", "Stencilled letters");
    expect(document().decals[0].decal).toMatchObject({ kind: "stencil", text: "7" });
    expect(commits.at(-1)!.label).toBe("Decal a: what it shows");
  });

  it("is copied, mirrored, and put in another order, in one step each", async () => {
    const { document, commits } = show([decal("a"), decal("b")]);
    await userEvent.click(screen.getByRole("button", { name: "Mirrored copy" }));
    expect(document().decals.map(({ mirrored }) => mirrored)).toEqual([false, false, true]);
    expect(document().decals[2].placement.position[0]).toBeCloseTo(1.1, 3);
    expect(useView.getState().picked).toMatchObject({ part: "decals", id: document().decals[2].id });
    await userEvent.click(screen.getByRole("button", { name: "Above the next" }));
    expect(
      document()
        .decals.map(({ name }) => name)
        .slice(0, 2),
    ).toEqual(["Decal b", "Decal a"]);
    expect(commits).toHaveLength(2);
  });

  it("is spread by rule over what it lies on, and takes in hand what takes one out", async () => {
    const { document, commits } = show([decal("a", { object: "crate" })]);
    await userEvent.click(screen.getByRole("button", { name: "Spread it by rule over Crate" }));
    expect(document().decals[0].spread).toMatchObject({ on: true, surfaces: ["crate"], hangs: "by its upper side" });
    expect(document().decals[0].where.cards).toMatchObject([{ id: "slope" }]);
    expect(commits).toHaveLength(1);
    expect(screen.getByRole("textbox", { name: /^Density/ })).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Make one its own: press it" }));
    expect(useView.getState().inHand).toEqual({ what: "unspread", decal: "a", keep: true });
    await userEvent.click(screen.getByRole("button", { name: "Make one its own: press it" }));
    expect(useView.getState().inHand).toBeNull();
  });

  it("brings back what was taken out of its rule", async () => {
    const spread = { ...defaultsOfGroup("Spread"), on: true, surfaces: ["ground"], removed: ["0".repeat(16)] };
    const { document } = show([decal("a", { spread })]);
    await userEvent.click(screen.getByRole("button", { name: "Bring back 1" }));
    expect(document().decals[0].spread.removed).toEqual([]);
  });

  it("takes a picture in, in its own proportions and as large as before", async () => {
    const stored = { source: "a".repeat(64), file_name: "sign.png", columns: 400, rows: 100, remarks: [] };
    vi.stubGlobal("fetch", vi.fn(() => Promise.resolve(new Response(JSON.stringify(stored))))); // prettier-ignore
    const { document } = show([decal("a", { decal: { ...defaultsOf("own_picture") }, width: 1, height: 1 })]);
    await userEvent.upload(screen.getByLabelText("Picture file"), new File(["x"], "sign.png"));
    await waitFor(() => expect(document().decals[0].decal).toMatchObject({ file_name: "sign.png" }));
    expect(document().decals[0]).toMatchObject({ width: 2, height: 0.5 });
    await userEvent.click(screen.getByRole("button", { name: "Delete the picture" }));
    expect(document().decals[0].decal).toMatchObject({ source: "" });
  });
});
