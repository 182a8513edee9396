import { screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { DropletLayer } from "../api/client";
import { defaultsOf } from "../api/declared";
import { useDocument } from "../site/context";
import { clear, made, onSite, SITE, vocabulary } from "../testing/onSite";
import { DropletBench } from "./DropletBench";

afterEach(() => {
  vi.unstubAllGlobals();
  clear();
});

const rain = (values: object = {}) =>
  made<DropletLayer>("DropletLayer", {
    id: "rain",
    name: "Rain",
    droplets: defaultsOf("beads"),
    where: { cards: [], shared: "" },
    surfaces: ["ground"],
    ...values,
  });
const Shown = () => <DropletBench layer={useDocument().droplets[0]} path="/droplets/0" vocabulary={vocabulary} />;
const costs = [{ surface: "ground", drops: 1234, volume: 8.25, largest: 6.4, triangles: 51_000, still: 99_000 }];

describe("the bench of a layer of drops", () => {
  it("says what drops they are, and has others lie in their place", async () => {
    const { document } = onSite(<Shown />, { droplets: [rain()] });
    expect(screen.getByText("Drops that lie.")).toBeTruthy();
    await userEvent.click(screen.getByRole("combobox", { name: "They are" }));
    await userEvent.click(screen.getByRole("option", { name: "Running drops" }));
    expect(document().droplets[0].droplets).toMatchObject({ kind: "runs", after: 6 });
  });

  it("says what they come to, once that is known", async () => {
    const scene = { surfaces: [], droplets: [{ layer: "rain", surface: "ground", mesh: "k", expected: 1500 }] };
    onSite(<Shown />, { droplets: [rain()] }, [
      [["scene", SITE, 1], scene],
      [["droplets", SITE, "rain", "k"], costs],
    ]);
    const list = await screen.findByRole("list", { name: "What they come to" });
    expect(within(list).getByRole("listitem").textContent).toContain(
      "The ground: 1,234 drops, 8.3 ml, up to 6.4 mm wide; 51 thousand triangles here, 99 thousand in stills and files",
    );
  });

  it("asks for a surface where there is none", () => {
    onSite(<Shown />, { droplets: [rain({ surfaces: [] })] });
    expect(screen.getByText(/Choose what they lie on/)).toBeTruthy();
  });
});
