import { QueryClient } from "@tanstack/react-query";
import { afterEach, describe, expect, it, vi } from "vitest";
import { client } from "./client";
import { packQuery, siteQuery } from "./queries";

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
