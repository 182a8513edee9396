import { screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import { client } from "../api/client";
import { clear, onSite, SITE } from "../testing/onSite";
import { ExportDialog } from "./ExportDialog";

afterEach(() => {
  clear();
  vi.restoreAllMocks();
});

const cost = (texel: number, texels: number, shot = "", name = "") => ({
  texel,
  shot,
  name,
  texels,
  bytes: texels * 5.5,
});
const costs = [cost(0.1, 1e6), cost(0.025, 16e6), cost(0, 4e6, "door", "The door")];

const shown = () => {
  vi.spyOn(client, "GET").mockResolvedValue({ data: costs, response: new Response() } as never);
  const post = vi
    .spyOn(client, "POST")
    .mockResolvedValue({ data: { id: "j", state: "waiting", result: {} }, response: new Response() } as never);
  onSite(<ExportDialog onClose={() => undefined} />, {}, [
    [["export costs", SITE, 1080], costs],
    [["export costs", SITE, 2160], costs],
  ]);
  return { body: () => (post.mock.calls.at(-1) as unknown as [string, { body: object }])[1].body };
};

const press = (name: string) => userEvent.click(screen.getByRole("button", { name }));
const choose = async (label: string, option: RegExp) => {
  await userEvent.click(screen.getByRole("combobox", { name: label }));
  await userEvent.click(within(screen.getByRole("listbox")).getByRole("option", { name: option }));
};

describe("texels of an export", () => {
  it("are of one size at first, and it is said what they come to", async () => {
    const { body } = shown();
    expect(screen.getByText("Maps: 16.0 million texels, about 88 MB.")).toBeTruthy();
    await press("Export");
    expect(body()).toMatchObject({ manner: "instanced", texel: 0.025, shot: "" });
  });

  it("are as fine as a shot needs for a picture of some height", async () => {
    const { body } = shown();
    await choose("Texels of the composed maps", /As “The door” needs – 4\.0 million/);
    await choose("For a picture this high", /2,160/);
    await press("Export");
    expect(body()).toMatchObject({ shot: "door", rows: 2160 });
  });
});
