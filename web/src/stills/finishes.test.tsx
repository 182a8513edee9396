import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { renderHook, waitFor } from "@testing-library/react";
import type { ReactNode } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Still } from "./stills";
import { useFinished } from "./finishes";

const still = (id: string) => ({ id, samples: 4 }) as Still;
const steps = [{ kind: "exposure", stops: 1 }] as never;

function Queries({ children }: { children: ReactNode }) {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  return <QueryClientProvider client={queries}>{children}</QueryClientProvider>;
}

describe("a finished still", () => {
  let answer: ((address: string) => void)[];
  beforeEach(() => {
    answer = [];
    let made = 0;
    vi.stubGlobal("fetch", (address: string) => new Promise((done) => answer.push(() => done(new Response(address)))));
    vi.spyOn(URL, "createObjectURL").mockImplementation(() => `blob:${++made}`);
    vi.spyOn(URL, "revokeObjectURL").mockImplementation(() => undefined);
  });
  afterEach(() => {
    vi.unstubAllGlobals();
    vi.restoreAllMocks();
  });
  // What the browser's own URL does is of no matter here, but it has to be there.
  URL.createObjectURL ??= () => "";
  URL.revokeObjectURL ??= () => undefined;

  it("stays while its steps change, and is never shown for another still", async () => {
    const { result, rerender } = renderHook(
      ({ id, made }: { id: string; made: never }) => useFinished(still(id), made),
      {
        wrapper: Queries,
        initialProps: { id: "one", made: steps },
      },
    );
    await waitFor(() => expect(answer).toHaveLength(1));
    answer[0]("one");
    await waitFor(() => expect(result.current.address).toBe("blob:1"));
    rerender({ id: "one", made: [{ kind: "exposure", stops: 2 }] as never });
    await waitFor(() => expect(answer).toHaveLength(2));
    expect(result.current.address).toBe("blob:1");
    answer[1]("one");
    await waitFor(() => expect(result.current.address).toBe("blob:2"));
    rerender({ id: "two", made: [{ kind: "exposure", stops: 2 }] as never });
    await waitFor(() => expect(answer).toHaveLength(3));
    expect(result.current.address).toBeNull();
  });

  it("is not asked for without steps, or where there is no still", () => {
    const { result } = renderHook(() => [useFinished(undefined, steps), useFinished(still("one"), [])], {
      wrapper: Queries,
    });
    expect(result.current.map(({ address }) => address)).toEqual([null, null]);
    expect(answer).toHaveLength(0);
  });
});
