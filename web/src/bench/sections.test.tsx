import { fireEvent, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it } from "vitest";
import type { CoverLayer, Scatter } from "../api/client";
import { useDocument } from "../site/context";
import { clear, made, onSite } from "../testing/onSite";
import { ClearSection } from "./ClearSection";
import { ShareMask } from "./ShareMask";
import { SurfaceShares } from "./SurfaceShares";

afterEach(clear);

const card = { id: "a", signal: { kind: "slope" }, starts_at: 0, full_at: 1 };

describe("what a scatter keeps clear of", () => {
  const Clear = () => <ClearSection layer={useDocument().planting[0]} path="/planting/0" />;
  const site = {
    planting: [made<Scatter>("Scatter", { id: "grass", name: "Grass", mix: [] })],
    structures: [{ id: "deck", name: "Deck" }],
  };

  it("is added with its usual distance, and shows its own form at once", async () => {
    const { document, commits } = onSite(<Clear />, site);
    await userEvent.click(screen.getByRole("button", { name: "Keep clear of" }));
    expect(screen.getAllByRole("menuitem").map((one) => one.textContent)).toEqual([
      "Objects",
      "Zones",
      "Planting below",
      "The lens of a shot",
    ]);
    await userEvent.click(screen.getByRole("menuitem", { name: "Objects" }));
    expect(commits[0].label).toBe("Grass: keep clear of objects");
    expect(document().planting[0].keep_clear[0]).toMatchObject({ of: "objects", objects: [] });
    expect(screen.getByRole("textbox", { name: /^Distance/ })).toBeTruthy();
    await userEvent.click(screen.getByRole("combobox", { name: /^Objects/ }));
    await userEvent.click(screen.getByRole("option", { name: "Deck" }));
    expect(document().planting[0].keep_clear[0]).toMatchObject({ objects: ["deck"] });
  });

  it("is taken away again, the right one of several", async () => {
    const two = ["objects", "zones"].map((of) => ({
      ...made<object>(of === "objects" ? "ClearOfObjects" : "ClearOfZones", { of, id: of }),
    }));
    const layer = { ...site.planting[0], keep_clear: two };
    const { document } = onSite(<Clear />, { ...site, planting: [layer] });
    await userEvent.click(screen.getByRole("button", { name: "No longer keep clear of zones" }));
    expect(document().planting[0].keep_clear.map((one) => one.of)).toEqual(["objects"]);
  });
});

describe("surfaces that share a recipe", () => {
  const surfaces = [
    { id: "ground", name: "Ground" },
    { id: "wall", name: "Wall" },
    { id: "roof", name: "Roof" },
  ];
  const moss = {
    id: "moss", name: "Moss", shown: true, cover: { kind: "moss" }, where: { cards: [], shared: "" },
    surfaces: ["ground", "wall"], strengths: {}, on_items: true,
  } as unknown as CoverLayer; // prettier-ignore
  const Shares = () => <SurfaceShares layer={useDocument().weather[0]} path="/weather/0" surfaces={surfaces} />;

  it("have each their own factor on it, those alone that share it", async () => {
    const { document } = onSite(<Shares />, { weather: [moss] });
    await userEvent.click(screen.getByRole("button", { name: "Strength by surface" }));
    expect(screen.queryByRole("textbox", { name: "Roof, ×" })).toBeNull();
    const wall = screen.getByRole("textbox", { name: "Wall, ×" });
    fireEvent.change(wall, { target: { value: "1.5" } });
    fireEvent.blur(wall);
    expect(document().weather[0].strengths).toEqual({ wall: 1.5 });
    const back = screen.getByRole("textbox", { name: "Wall, ×" });
    fireEvent.change(back, { target: { value: "1" } });
    fireEvent.blur(back);
    expect(document().weather[0].strengths).toEqual({});
  });

  it("can be given a recipe of their own, which takes their strength along", async () => {
    const { document } = onSite(<Shares />, { weather: [{ ...moss, strengths: { wall: 0.5 } }] });
    await userEvent.click(screen.getByRole("button", { name: "Own strength on 1" }));
    await userEvent.click(screen.getByRole("button", { name: "Detach for Wall" }));
    const [shared, own] = document().weather;
    expect(shared).toMatchObject({ id: "moss", surfaces: ["ground"], strengths: {} });
    expect(own).toMatchObject({ name: "Moss on Wall", surfaces: ["wall"], strengths: { wall: 0.5 } });
    expect(own.id).not.toBe("moss");
  });

  it("cannot be told apart where there are none", () => {
    onSite(<Shares />, { weather: [{ ...moss, surfaces: [] }] });
    expect(screen.getByRole("button", { name: "Strength by surface" }).hasAttribute("disabled")).toBe(true);
  });
});

describe("a mask that layers share", () => {
  const layer = (id: string, where: object) => ({
    id, name: id, shown: true, cover: { kind: "moss" }, surfaces: ["ground"], strengths: {}, where,
  }); // prettier-ignore
  const Share = ({ row = 0 }: { row?: number }) => (
    <ShareMask where={useDocument().weather[row].where} path={`/weather/${row}/where`} subject="Moss" />
  );

  it("comes of one that has cards, and keeps them", async () => {
    const { document } = onSite(<Share />, { weather: [layer("Moss", { cards: [card], shared: "" })], wheres: [] });
    await userEvent.click(screen.getByRole("button", { name: "Share" }));
    await userEvent.click(screen.getByRole("menuitem", { name: /^Share this mask/ }));
    const [mask] = document().wheres;
    expect(mask).toMatchObject({ name: "Where of Moss", cards: [card] });
    expect(document().weather[0].where.shared).toBe(mask.id);
    expect(screen.getByRole("button", { name: "Where of Moss, shared by 1" })).toBeTruthy();
  });

  it("does not come of one without cards", async () => {
    onSite(<Share />, { weather: [layer("Moss", { cards: [], shared: "" })], wheres: [] });
    await userEvent.click(screen.getByRole("button", { name: "Share" }));
    expect(screen.getByRole("menuitem", { name: /^Share this mask/ }).getAttribute("aria-disabled")).toBe("true");
  });

  it("is followed by its name, says who follows it, and is left with its cards", async () => {
    const wheres = [{ id: "m", name: "Damp corners", cards: [card] }];
    const { document } = onSite(<Share row={1} />, {
      weather: [layer("Moss", { cards: [card], shared: "m" }), layer("Rust", { cards: [], shared: "" })],
      wheres,
    });
    await userEvent.click(screen.getByRole("button", { name: "Share" }));
    await userEvent.click(screen.getByRole("menuitem", { name: /^Follow “Damp corners”\s*1 cards, shared by Moss/ }));
    expect(document().weather[1].where.shared).toBe("m");
    await userEvent.click(screen.getByRole("button", { name: "Damp corners, shared by 2" }));
    expect(screen.getByText(/Followed by Moss, Rust/)).toBeTruthy();
    await userEvent.click(screen.getByRole("menuitem", { name: /^Detach here/ }));
    expect(document().weather[1].where).toMatchObject({ shared: "", cards: [{ signal: { kind: "slope" } }] });
    expect(document().weather[0].where.shared).toBe("m");
  });

  it("can be deleted once nobody follows it", async () => {
    const { document } = onSite(<Share />, {
      weather: [layer("Moss", { cards: [card], shared: "" })],
      wheres: [{ id: "m", name: "Old", cards: [card] }],
    });
    await userEvent.click(screen.getByRole("button", { name: "Share" }));
    await userEvent.click(screen.getByRole("menuitem", { name: /^Delete “Old”/ }));
    expect(document().wheres).toEqual([]);
  });
});
