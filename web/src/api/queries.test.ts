import { QueryClient } from "@tanstack/react-query";
import { afterEach, describe, expect, it, vi } from "vitest";
import { packQuery } from "./queries";

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
      await vi.waitFor(() => expect(waiting.length).toBeGreaterThan(k));
      waiting[k]();
    }
    expect(await Promise.all(asked)).toEqual(Array(12).fill("came"));
    expect(most).toBe(4);
  });
});
