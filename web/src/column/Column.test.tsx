import { screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it } from "vitest";
import type { Scatter, SiteDocument, Structure } from "../api/client";
import { useView } from "../site/store";
import { clear, made, onSite, SITE } from "../testing/onSite";
import { Column } from "./Column";

afterEach(clear);

const structure = (id: string, name: string, group = "") =>
  made<Structure>("Structure", { id, name, group, source: { kind: "kit_piece", item: "stone", variant: 0 } });
const site = {
  structures: [
    structure("house", "House"),
    structure("c1", "Crate", "Yard"),
    structure("c2", "Crate 2", "Yard"),
    structure("well", "Well"),
  ],
  planting: [made<Scatter>("Scatter", { id: "grass", name: "Meadow", density: 1200, mix: [], surfaces: ["ground"] })],
  weather: [
    { id: "moss", name: "Moss", shown: true, cover: { kind: "moss" }, where: { cards: [], shared: "" },
      surfaces: ["house", "well"], strengths: { well: 2 }, on_items: true },
  ],
  zones: [made<SiteDocument["zones"][number]>("Zone", { id: "bed", name: "Bed", radius: 2.5 })],
  shots: [{ id: "first", name: "First shot" }],
}; // prettier-ignore
const column = (parts: object = site) => onSite(<Column />, parts);
const part = (name: string) => within(screen.getByRole("group", { name }));

describe("the column", () => {
  it("is the site from the ground upward, the ground lowest", () => {
    column();
    const parts = screen.getAllByRole("group").map((one) => one.getAttribute("aria-label"));
    expect(parts).toEqual([
      "Shots",
      "Lamps",
      "Light",
      "Water & air",
      "Droplets",
      "Decals",
      "Weather",
      "Planting",
      "Grass",
      "Structures",
      "Zones",
      "Ground",
    ]);
  });

  it("says what each layer costs", () => {
    const scene = { surfaces: [{ id: "house", triangles: 12345 }], scatters: [] };
    onSite(<Column />, site, [[["scene", SITE, 1], scene]]);
    expect(part("Planting").getByText("1,200 /m²")).toBeTruthy();
    expect(part("Weather").getByText("shared by 2")).toBeTruthy();
    expect(part("Zones").getByText("2.5 m")).toBeTruthy();
    expect(part("Structures").getByText("12,345 tri")).toBeTruthy();
  });

  it("shows what shots show, once that is drawn, and says which objects are seen by their shadow alone", () => {
    const shots = ["first", "new"].map((id) => ({ id, name: id }));
    const { container } = onSite(
      <Column />,
      { ...site, structures: [{ ...structure("sail", "Sail"), only_shadow: true }], shots },
      [[["shot pictures", SITE], { first: "/first.png" }]],
    );
    expect([...container.querySelectorAll("img")].map((one) => one.getAttribute("src"))).toEqual(["/first.png"]);
    // The picture adds nothing to the name of its row.
    expect(part("Shots").getByRole("button", { name: "first" })).toBeTruthy();
    expect(part("Structures").getByText("shadow")).toBeTruthy();
  });

  it("tells the next useful step where a part is empty", () => {
    column({ shots: [] });
    expect(screen.getByText("All clean and new. Add moss with +.")).toBeTruthy();
    expect(screen.getByText("Keep a view to have a shot.")).toBeTruthy();
  });

  it("finds layers by name and by group, also in one that is folded", async () => {
    column();
    await userEvent.click(screen.getByRole("button", { name: "Fold Yard" }));
    expect(screen.queryByRole("button", { name: "Crate" })).toBeNull();
    await userEvent.type(screen.getByRole("textbox", { name: "Find a layer" }), "yard");
    expect(screen.getByRole("button", { name: "Crate" })).toBeTruthy();
    expect(screen.queryByRole("button", { name: "House" })).toBeNull();
    expect(screen.queryByRole("button", { name: "Meadow" })).toBeNull();
  });
});

describe("a layer in its band", () => {
  it("is picked, and more structures with a modifier", async () => {
    column();
    await userEvent.click(screen.getByRole("button", { name: "House" }));
    expect(useView.getState().picked).toEqual({ part: "structures", id: "house" });
    const user = userEvent.setup();
    await user.keyboard("{Shift>}");
    await user.click(screen.getByRole("button", { name: "Well" }));
    await user.keyboard("{/Shift}");
    expect(useView.getState().alsoPicked).toEqual(["well"]);
    expect(screen.getByRole("button", { name: "Well" }).getAttribute("aria-pressed")).toBe("true");
  });

  it("is hidden, locked and shown by steps that name it", async () => {
    const { commits, document } = column();
    await userEvent.click(screen.getByRole("button", { name: "Hide Meadow" }));
    await userEvent.click(screen.getByRole("button", { name: "Lock House" }));
    await userEvent.click(screen.getByRole("button", { name: "Show Meadow" }));
    expect(commits.map((one) => one.label)).toEqual(["Hide Meadow", "Lock House", "Show Meadow"]);
    expect(document().planting[0].shown).toBe(true);
    expect(document().structures[0].locked).toBe(true);
  });

  it("takes what lay on it along when it is deleted", async () => {
    const { document } = column();
    useView.getState().pick({ part: "structures", id: "well" });
    await userEvent.click(screen.getByRole("button", { name: "Delete Well" }));
    expect(document().structures.map((one) => one.id)).toEqual(["house", "c1", "c2"]);
    expect(document().weather[0]).toMatchObject({ surfaces: ["house"] });
    expect(useView.getState().picked).toBeNull();
  });

  it("of a shot is gone to when it is picked", async () => {
    column();
    const before = useView.getState().shotTicket;
    await userEvent.click(screen.getByRole("button", { name: "First shot" }));
    expect(useView.getState()).toMatchObject({ shotId: "first", shotTicket: before + 1 });
  });
});

describe("a group", () => {
  it("is picked whole, and hidden and shown whole", async () => {
    const { document, commits } = column();
    await userEvent.click(screen.getByRole("button", { name: "Yard" }));
    expect(useView.getState()).toMatchObject({ picked: { part: "structures", id: "c1" }, alsoPicked: ["c2"] });
    await userEvent.click(screen.getByRole("button", { name: "Hide group Yard" }));
    expect(document().structures.map((one) => one.shown)).toEqual([true, false, false, true]);
    expect(commits[0].label).toBe("Hide group Yard");
  });
});

describe("what is added", () => {
  const add = async (button: string, choice: RegExp) => {
    await userEvent.click(screen.getByRole("button", { name: button }));
    await userEvent.click(screen.getByRole("menuitem", { name: choice }));
  };

  it("is a cover on all structures, picked at once, under a name of its own", async () => {
    const { document } = column();
    await add("Add a cover", /^Moss on all structures/);
    const laid = document().weather[1];
    expect(laid).toMatchObject({ name: "Moss 2", surfaces: ["house", "c1", "c2", "well"], cover: { kind: "moss" } });
    expect(useView.getState().picked).toEqual({ part: "weather", id: laid.id });
  });

  it("is a scatter over the surface that was chosen", async () => {
    const { document } = column();
    await add("Add a scatter", /^Scatter over Well/);
    expect(document().planting[1].surfaces).toEqual(["well"]);
    expect(document().planting[1].mix.length).toBeGreaterThan(1);
  });

  it("is a zone or a structure where the camera looks", async () => {
    const { document } = column();
    await add("Add a zone", /^A round zone in view/);
    await add("Add a structure", /^Wall/);
    expect(document().zones[1].shape).toBe("circle");
    expect(document().structures[4]).toMatchObject({ name: "Wall", source: { kind: "made", maker: { kind: "wall" } } });
  });
});

describe("water", () => {
  it("is turned on in its band", async () => {
    const { document } = column();
    const was = document().water.shown;
    await userEvent.click(screen.getByRole("button", { name: was ? "Hide Water & air" : "Show Water & air" }));
    expect(document().water.shown).toBe(!was);
  });
});
