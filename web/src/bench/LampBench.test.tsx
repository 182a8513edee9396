import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { PlacedLamp } from "../api/client";
import { defaultsOf } from "../api/declared";
import { partOf } from "../parts/registry";
import { emptyStage } from "../site/stage";
import { useView } from "../site/store";
import { clear, made, onSite, vocabulary } from "../testing/onSite";
import { useDocument } from "../site/context";
import { LampBench } from "./LampBench";

afterEach(() => {
  vi.unstubAllGlobals();
  clear();
});

const lamp = (id: string, kind: string): PlacedLamp =>
  made<PlacedLamp>("PlacedLamp", { id, name: `Lamp ${id}`, lamp: { ...defaultsOf(kind) } as never });
const lamps = () => [lamp("a", "point_lamp"), lamp("b", "spot_lamp"), lamp("c", "point_lamp")];
const pick = (...ids: string[]) =>
  useView.setState({ picked: { part: "lamps", id: ids[0] }, alsoPicked: ids.slice(1) });
const field = (name: RegExp) => screen.getByRole("textbox", { name });
const type = async (name: RegExp, value: string) => {
  await userEvent.clear(field(name));
  await userEvent.type(field(name), `${value}{Enter}`);
};

describe("the bench of lamps", () => {
  it("sets one lamp, and nothing of the others", async () => {
    pick("a");
    const { document } = onSite(<LampBench index={0} />, { lamps: lamps() });
    await type(/^Lumens/, "1200");
    expect(document().lamps.map(({ lamp: { lumens } }) => lumens)).toEqual([1200, 900, 900]);
  });

  it("picks all of a kind in one press, and sets them alike in one step", async () => {
    pick("a");
    const { document, commits } = onSite(<LampBench index={0} />, { lamps: lamps() });
    await userEvent.click(screen.getByRole("button", { name: "Pick all 2 of this kind" }));
    expect(useView.getState()).toMatchObject({ picked: { part: "lamps", id: "a" }, alsoPicked: ["c"] });
    expect(screen.getByText("2 lamps")).toBeTruthy();
    await type(/^Kelvin/, "4000");
    expect(document().lamps.map(({ lamp: { kelvin } }) => kelvin)).toEqual([4000, 2700, 4000]);
    expect(commits.at(-1)!.operations).toHaveLength(2);
  });

  it("sets what only a kind has on those of its kind, and what all have on all", async () => {
    pick("b", "a");
    const { document } = onSite(<LampBench index={1} />, { lamps: lamps() });
    await type(/^Angle/, "30");
    expect(document().lamps.map((one) => (one.lamp as { angle?: number }).angle)).toEqual([undefined, 30, undefined]);
    await userEvent.click(screen.getByRole("combobox", { name: /^Burns/ }));
    await userEvent.click(screen.getByRole("option", { name: "Always" }));
    expect(document().lamps.map(({ burns }) => burns)).toEqual(["always", "always", "at dusk"]);
  });

  it("takes the shape of a photometric file that is brought in, and as much light as was measured", async () => {
    pick("a");
    const { document } = onSite(<LampBench index={0} />, { lamps: lamps() });
    const found = { source: "b".repeat(64), file_name: "street.ies", lumens: 3100, remarks: [] };
    vi.stubGlobal("fetch", () => Promise.resolve(new Response(JSON.stringify(found))));
    const file = new File(["x"], "street.ies");
    await userEvent.upload(screen.getByLabelText("Photometry file"), file, { applyAccept: false });
    await waitFor(() => expect(document().lamps[0].lamp.kind).toBe("measured_lamp"));
    expect(document().lamps[0].lamp).toMatchObject({ source: "b".repeat(64), lumens: 3100, kelvin: 2700 });
    await userEvent.click(screen.getByRole("button", { name: "Delete the photometry" }));
    expect(document().lamps[0].lamp).toMatchObject({ kind: "point_lamp", lumens: 3100 });
  });
});

describe("the part of lamps", () => {
  it("adds each kind over the place that is looked at, but none without its file", () => {
    const Site = () => <p>{useDocument().lamps.length}</p>;
    const { document } = onSite(<Site />, { lamps: [] });
    const added: PlacedLamp[] = [];
    const stage = { ...emptyStage(), spot: () => [1, 2, 3] as [number, number, number] };
    const adding = { stage, vocabulary, document, add: (one: unknown) => added.push(one as PlacedLamp) };
    const entries = partOf("lamps")!.add!.entries(adding as never);
    expect(entries.map(({ title }) => title)).toEqual(["Point lamp in view", "Spot lamp in view"]);
    entries[1].act!();
    expect(added[0]).toMatchObject({ name: "Spot lamp", lamp: { kind: "spot_lamp", angle: 60 }, burns: "at dusk" });
    expect(added[0].placement.position).toEqual([1, 4.5, 3]);
  });
});
