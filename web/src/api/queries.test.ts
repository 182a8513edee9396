import { QueryClient } from "@tanstack/react-query";
import { afterEach, describe, expect, it, vi } from "vitest";
import { client } from "./client";
import { packQuery, sceneQuery, siteQuery } from "./queries";

afterEach(() => vi.unstubAllGlobals());

describe("packs of a site", () => {
  it("leave connections free for what the user does, and all come", async () => {
    let going = 0;
    let most = 0;
    const waiting: (() => void)[] = [];
    vi.stubGlobal("fetch", async () => {
      most = Math.max(most, ++going);
      await new Promise<void>((resolve) => waiting.push(resolve));
      going--;
      return new Response(null, { status: 404 });
    });
    const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
    const asked = Array.from({ length: 12 }, (_, k) => queries.fetchQuery(packQuery(`/maps/${k}`)).catch(() => "came"));
    for (let k = 0; k < 12; k++) {
      await vi.waitFor(() => expect(waiting.length).toBeGreaterThan(k), 30_000);
      waiting[k]();
    }
    expect(await Promise.all(asked)).toEqual(Array(12).fill("came"));
    expect(most).toBe(4);
  });
});

describe("a site that is read", () => {
  it("does not fall behind an edit that was answered meanwhile", async () => {
    const queries = new QueryClient();
    const site = (revision: number) => ({ revision }) as never;
    queries.setQueryData(["site", "s"], site(3));
    const reading = vi.spyOn(client, "GET").mockImplementation(async () => {
      queries.setQueryData(["site", "s"], site(4));
      return { data: site(3), response: new Response() } as never;
    });
    expect(await queries.fetchQuery({ ...siteQuery(queries, "s"), staleTime: 0 })).toEqual({ revision: 4 });
    reading.mockRestore();
  });
});

describe("a scene", () => {
  it("is asked for with its revision; one that has gone on is kept under its own, and the site is read again", async () => {
    const queries = new QueryClient();
    queries.setQueryData(["site", "s"], { revision: 3 });
    queries.setQueryData(["scene", "s", 2], { revision: 2 });
    const reading = vi
      .spyOn(client, "GET")
      .mockImplementation(async () => ({ data: { revision: 4 }, response: new Response() }) as never);
    await queries.fetchQuery(sceneQuery(queries, "s", 3));
    expect(reading.mock.calls[0][1]).toMatchObject({ params: { query: { revision: 3 } } });
    expect(queries.getQueryData(["scene", "s", 4])).toEqual({ revision: 4 });
    expect(queries.getQueryState(["site", "s"])?.isInvalidated).toBe(true);
    reading.mockRestore();
  });
});
