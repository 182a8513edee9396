import { fireEvent, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it } from "vitest";
import type { Declared } from "../api/declared";
import { clear, onSite } from "../testing/onSite";
import { DeclaredForm } from "./DeclaredForm";

afterEach(clear);

const declared: Record<string, Declared> = {
  wall_height: { type: "number", minimum: 0, maximum: 10, unit: "m", step: 0.1, default: 3, description: "How high." },
  storeys: { type: "integer", minimum: 1, maximum: 9, default: 2 },
  ruined: { type: "boolean", default: false, description: "Whether it is a ruin." },
  roof: { enum: ["flat", "pitched"], default: "flat" },
  tint: { type: "array", names: ["red", "green", "blue"], colour: true, default: [0.5, 0.5, 0.5] },
  size: { type: "array", names: ["least", "greatest"], least: 0.1, most: 5, step: 0.1, ordered: true, default: [1, 1] },
  words: { text: true, maxLength: 10, default: "" },
  material: { picks: "material", default: "brick" },
  objects: { picks: "objects", type: "array", default: [] },
  hidden_pose: { $ref: "#/components/schemas/Pose" },
};
const value = {
  wall_height: 3,
  storeys: 2,
  ruined: false,
  roof: "flat",
  tint: [0.5, 0.5, 0.5],
  size: [1, 2],
  words: "",
  material: "brick",
  objects: [],
};
const form = (columns = 1, without?: string[]) => (
  <DeclaredForm subject="House" path="/house" {...{ declared, value, columns, without }} />
);
const site = {
  house: value,
  structures: [
    { id: "shed", name: "Old shed" },
    { id: "well", name: "Well" },
  ],
  materials: [{ id: "own-1", name: "My brick" }],
};

describe("a form from a declaration", () => {
  it("asks for what counts as the others are set, and for nothing else", () => {
    const by = { enum: ["hand", "time"], default: "hand" };
    const hour: Declared = { type: "number", default: 1, counts_with: { by: "time" } };
    const height: Declared = { type: "number", default: 1, counts_with: { by: "hand" } };
    const clouds: Declared = { type: "number", default: 1, counts_with: { by: ["hand", "time"] } };
    const light = { by: "time", hour: 1, height: 1, clouds: 1 };
    const declared = { by, hour, height, clouds };
    onSite(<DeclaredForm subject="Light" path="/light" declared={declared} value={light} />, { light });
    expect(screen.getByRole("textbox", { name: "Clouds" })).toBeTruthy();
    expect(screen.getByRole("textbox", { name: "Hour" })).toBeTruthy();
    expect(screen.queryByRole("textbox", { name: "Height" })).toBeNull();
  });

  it("has a control for each parameter that has one, called in plain words", () => {
    onSite(form(), site);
    for (const label of ["Wall height, m", "Storeys", "Size, least", "Size, greatest"])
      expect(screen.getByRole("textbox", { name: label })).toBeTruthy();
    expect(screen.getByRole("switch", { name: "Ruined" })).toBeTruthy();
    expect(screen.getByLabelText("Tint")).toBeTruthy();
    expect(screen.queryByText(/Hidden pose/)).toBeNull();
  });

  it("leaves out what is edited elsewhere", () => {
    onSite(form(2, ["storeys", "tint"]), site);
    expect(screen.queryByRole("textbox", { name: "Storeys" })).toBeNull();
    expect(screen.queryByLabelText("Tint")).toBeNull();
  });

  it("shows a number on its way as a draft of one gesture, and ends it as one step", () => {
    const { commits, drafts } = onSite(form(), site);
    const box = screen.getByRole("textbox", { name: "Wall height, m" });
    box.focus();
    fireEvent.wheel(box, { deltaY: -1 });
    fireEvent.wheel(box, { deltaY: -1 });
    expect(new Set(drafts.map((draft) => draft.gesture)).size).toBe(1);
    expect(drafts[drafts.length - 1].label).toBe("House: wall height");
    fireEvent.keyDown(screen.getByRole("textbox", { name: "Wall height, m" }), { key: "ArrowUp" });
    fireEvent.blur(screen.getByRole("textbox", { name: "Wall height, m" }));
    expect(commits[commits.length - 1].operations[0].path).toBe("/house/wall_height");
  });

  it("switches and chooses by one step each", async () => {
    const { commits } = onSite(form(), site);
    await userEvent.click(screen.getByRole("switch", { name: "Ruined" }));
    await userEvent.click(screen.getByRole("combobox", { name: /^Roof/ }));
    await userEvent.click(screen.getByRole("option", { name: "Pitched" }));
    expect(commits).toEqual([
      { label: "House: ruined", operations: [{ op: "replace", path: "/house/ruined", value: true }] },
      { label: "House: roof", operations: [{ op: "replace", path: "/house/roof", value: "pitched" }] },
    ]);
  });

  it("keeps the least below the greatest: the other one gives way", () => {
    const { commits } = onSite(form(), site);
    const least = screen.getByRole("textbox", { name: "Size, least" });
    fireEvent.change(least, { target: { value: "3" } });
    fireEvent.blur(least);
    expect(commits[0].operations[0].value).toEqual([3, 3]);
    const greatest = screen.getByRole("textbox", { name: "Size, greatest" });
    fireEvent.change(greatest, { target: { value: "0.5" } });
    fireEvent.blur(greatest);
    expect(commits[1].operations[0].value).toEqual([0.5, 0.5]);
  });

  it("offers the site's own materials before the shipped ones", async () => {
    const { commits } = onSite(form(), site);
    await userEvent.click(screen.getByRole("combobox", { name: /^Material/ }));
    const names = within(screen.getByRole("listbox"))
      .getAllByRole("option")
      .map((one) => one.textContent);
    expect(names).toEqual(["My brick", "Brick", "Rock"]);
    await userEvent.click(screen.getByRole("option", { name: "My brick" }));
    expect(commits[0].operations[0].value).toBe("own-1");
  });

  it("says what it means that no object is picked, and picks several", async () => {
    const { commits } = onSite(form(), site);
    expect(screen.getByText("All structures")).toBeTruthy();
    await userEvent.click(screen.getByRole("combobox", { name: /^Objects/ }));
    await userEvent.click(screen.getByRole("option", { name: "Well" }));
    expect(commits[0].operations[0]).toEqual({ op: "replace", path: "/house/objects", value: ["well"] });
  });
});

describe("a list of groups", () => {
  const rows: Record<string, Declared> = {
    rows: { type: "array", items: { $ref: "#/components/schemas/DropShare" }, minItems: 1, maxItems: 3 },
  };
  const list = (entries: object[]) => (
    <DeclaredForm subject="Heap" path="/heap" declared={rows} value={{ rows: entries }} />
  );

  it("adds the usual entry, removes any but the last that there must be", async () => {
    const two = [
      { item: "fern", number: 3 },
      { item: "stone", number: 5 },
    ];
    const { commits, again } = onSite(list(two), { heap: { rows: two } });
    await userEvent.click(screen.getByRole("button", { name: "Delete rows 2" }));
    expect(commits[0].operations).toEqual([{ op: "remove", path: "/heap/rows/1" }]);
    await userEvent.click(screen.getByRole("button", { name: "Add to rows" }));
    expect(commits[1].operations[0]).toMatchObject({ op: "add", path: "/heap/rows/-", value: { number: 10 } });
    again(list(two.slice(0, 1)));
    expect(screen.getByRole("button", { name: "Delete rows 1" }).hasAttribute("disabled")).toBe(true);
  });

  it("is full at its greatest number", () => {
    onSite(list([{ item: "fern" }, { item: "fern" }, { item: "fern" }].map((one) => ({ ...one, number: 1 }))));
    expect(screen.getByRole("button", { name: "Add to rows" }).hasAttribute("disabled")).toBe(true);
  });
});
