import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import { Storage } from "./Storage";

afterEach(cleanup);

function withHoldings(values: object) {
  const queries = new QueryClient({ defaultOptions: { queries: { staleTime: Infinity } } });
  const held = { used: 0, most: 10e9, brought: 0, uploads: 0, made: 0, days: 7, ...values };
  queries.setQueryData(["storage"], held);
  render(
    <QueryClientProvider client={queries}>
      <Storage />
    </QueryClientProvider>,
  );
}

describe("what a user holds", () => {
  it("is told by what it is, and how long it waits", () => {
    withHoldings({ used: 2.51e9, brought: 2.1e9, uploads: 0.31e9, made: 0.1e9 });
    expect(screen.getByText(/You hold 2.5 of 10.0 GB: 2.1 brought in, 0.31 as uploaded, 0.10 in files/)).toBeTruthy();
    expect(screen.getByText(/after 7 days/)).toBeTruthy();
    expect(screen.getByRole("progressbar").getAttribute("aria-valuenow")).toBe("25");
  });

  it("never shows more than all of it", () => {
    withHoldings({ used: 20e9 });
    expect(screen.getByRole("progressbar").getAttribute("aria-valuenow")).toBe("100");
  });
});
