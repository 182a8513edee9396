import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import { client } from "../api/client";
import type { Mood } from "../library/moods";
import { useView } from "../site/store";
import { defaultsOf } from "../api/declared";
import { clear, made, onSite, SITE } from "../testing/onSite";
import { MoodSection } from "./MoodSection";

afterEach(() => {
  vi.restoreAllMocks();
  clear();
});

const mood = (id: string, name: string, more: Partial<Mood> = {}): Mood => ({
  id,
  name,
  help: `${name}, in words.`,
  own: false,
  light: { by: "hand", height: 3 },
  air: { visibility: 900 },
  grade: { steps: [] },
  ...more,
});
const grey = mood("drizzle", "Drizzle", { light: { by: "hand", height: 30 } });
const shown = (moods: Mood[]) => onSite(<MoodSection />, {}, [[["moods"], moods]]);

describe("moods", () => {
  it("set light and air in one step, and leave what is the site's own", async () => {
    const { document, commits } = shown([mood("dawn", "Dawn"), grey]);
    const before = document();
    await userEvent.click(screen.getByRole("button", { name: "Dawn" }));
    expect(commits.map(({ label }) => label)).toEqual(["Mood: Dawn"]);
    expect(document().light).toMatchObject({
      height: 3,
      bearing: before.light.bearing,
      latitude: before.light.latitude,
    });
    expect([document().air.visibility, document().climate]).toEqual([900, before.climate]);
    expect(screen.getByRole("button", { name: "Dawn" }).getAttribute("aria-pressed")).toBe("true");
    await userEvent.click(screen.getByRole("button", { name: "Drizzle" }));
    expect(document().light.height).toBe(30);
    expect(screen.getByRole("button", { name: "Dawn" }).getAttribute("aria-pressed")).toBe("false");
  });

  it("let their rain wet what it reaches, by one cover", async () => {
    const wall = made<object>("Structure", { id: "wall", name: "Wall" });
    const rains = mood("rain", "Rain", { air: { rain: 6 } });
    const { document, commits } = onSite(<MoodSection />, { structures: [wall] }, [[["moods"], [rains, grey]]]);
    await userEvent.click(screen.getByRole("button", { name: "Drizzle" }));
    expect(document().weather).toEqual([]);
    for (const name of ["Rain", "Drizzle", "Rain"]) await userEvent.click(screen.getByRole("button", { name }));
    expect(document().weather.map(({ cover, surfaces }) => [cover.kind, surfaces])).toEqual([
      ["wetness", ["ground", "wall"]],
    ]);
    expect(commits).toHaveLength(4);
  });

  it("bring their grade to all shots but those that have a finish of their own", async () => {
    const graded = (id: string, name: string, kind: string) =>
      mood(id, name, { grade: { steps: [defaultsOf(kind)] } as never });
    const shot = (id: string, finish: string) => made<object>("Shot", { id, name: id, finish });
    const { document, commits } = onSite(
      <MoodSection />,
      { shots: [shot("a", ""), shot("b", "own")], finishes: [{ id: "own", name: "Own", steps: [] }] },
      [[["moods"], [graded("dawn", "Dawn", "bloom"), graded("fog", "Fog", "vignette"), grey]]],
    );
    const finishes = () => document().shots.map(({ finish }) => finish);
    await userEvent.click(screen.getByRole("button", { name: "Dawn" }));
    expect(finishes()).toEqual(["mood-dawn", "own"]);
    await userEvent.click(screen.getByRole("button", { name: "Fog" }));
    await userEvent.click(screen.getByRole("button", { name: "Dawn" }));
    expect(finishes()).toEqual(["mood-dawn", "own"]);
    expect(document().finishes.map(({ id, steps }) => [id, steps.length])).toEqual([
      ["own", 0],
      ["mood-dawn", 1],
      ["mood-fog", 1],
    ]);
    await userEvent.click(screen.getByRole("button", { name: "Drizzle" }));
    expect(finishes()).toEqual(["", "own"]);
    expect(commits).toHaveLength(4);
  });

  it("are kept under a name, deleted and brought back", async () => {
    const own = mood("own-1", "Mine", { own: true });
    const answers = (data: unknown) => (async () => ({ data, response: new Response() })) as never;
    const post = vi.spyOn(client, "POST").mockImplementation(answers(own));
    const gone = vi.spyOn(client, "DELETE").mockImplementation(answers(undefined));
    vi.spyOn(client, "GET").mockImplementation(answers([own]));
    shown([]);
    expect((screen.getByRole("button", { name: "Keep this one" }) as HTMLButtonElement).disabled).toBe(true);
    await userEvent.type(screen.getByLabelText("Name of a mood"), " Mine {Enter}");
    await waitFor(() => expect(useView.getState().notice?.text).toContain("“Mine”"));
    expect(post).toHaveBeenLastCalledWith("/api/moods", { body: { site: SITE, name: "Mine" } });
    await userEvent.click(await screen.findByRole("button", { name: "Delete the mood Mine" }));
    await userEvent.click(await screen.findByRole("button", { name: "Undo" }));
    await waitFor(() => expect(screen.queryByText(/was deleted/)).toBeNull());
    const params = { path: { entry_id: "own-1" } };
    expect(gone).toHaveBeenLastCalledWith("/api/library/{entry_id}", { params });
    expect(post).toHaveBeenLastCalledWith("/api/library/{entry_id}/restore", { params });
  });
});
