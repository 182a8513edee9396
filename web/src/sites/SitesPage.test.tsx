import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { MemoryRouter, Route, Routes } from "react-router";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { client } from "../api/client";
import { SitesPage } from "./SitesPage";

const sites = [
  { id: "a", name: "Quarry", structures: 3, layers: 5, modified: "2026-11-02T10:30:00Z", thumbnail: "/a.png" },
  { id: "b", name: "Yard", structures: 0, layers: 0, modified: "2026-11-01T10:30:00Z", thumbnail: "" },
];
const answered = (data: unknown, status = 200) =>
  ({ data: status < 400 ? data : undefined, error: status < 400 ? undefined : data, response: new Response(null, { status }) }) as never; // prettier-ignore
const refusal = { message: "Some values cannot be used. Nothing was changed.", fields: [{ field: "name", message: "A name is needed" }] }; // prettier-ignore

function page(listed: object[] = sites) {
  const held = { used: 1e8, most: 1e10, brought: 1e8, uploads: 0, made: 0, days: 7 };
  vi.spyOn(client, "GET").mockImplementation(((path: string) =>
    Promise.resolve(answered(path === "/api/storage" ? held : listed))) as never);
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  queries.setQueryData(["session"], { user: "ada", csrf: "x" });
  render(
    <QueryClientProvider client={queries}>
      <MemoryRouter initialEntries={["/"]}>
        <Routes>
          <Route path="/" element={<SitesPage />} />
          <Route path="/sites/:id" element={<p>opened</p>} />
        </Routes>
      </MemoryRouter>
    </QueryClientProvider>,
  );
}

beforeEach(() => {
  for (const how of ["POST", "PATCH", "DELETE"] as const)
    vi.spyOn(client, how).mockResolvedValue(answered({ id: "new", name: "New" }));
});
afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

describe("the list of sites", () => {
  it("shows each with its picture, or says that it is being drawn", async () => {
    page();
    const link = await screen.findByRole("link", { name: "Open Quarry" });
    expect(link.getAttribute("href")).toBe("/sites/a");
    expect(screen.getByText("3 structures · 5 layers")).toBeTruthy();
    expect(screen.getAllByText("Its picture is being drawn …")).toHaveLength(1);
  });

  it("says what to do where there is none", async () => {
    page([]);
    expect(await screen.findByText(/No sites yet\. Make one/)).toBeTruthy();
  });

  it("opens a site as soon as it is made", async () => {
    page();
    await userEvent.click(screen.getByRole("button", { name: "New site" }));
    expect(document.activeElement).toBe(screen.getByRole("textbox", { name: "Name" }));
    expect(screen.getByRole("button", { name: "Make it" }).hasAttribute("disabled")).toBe(true);
    await userEvent.type(screen.getByRole("textbox", { name: "Name" }), "Harbour");
    await userEvent.click(screen.getByRole("button", { name: "Make it" }));
    expect(client.POST).toHaveBeenCalledWith("/api/sites", { body: { name: "Harbour" } });
    expect(await screen.findByText("opened")).toBeTruthy();
  });

  it("keeps what was typed where a name is refused, and says why by the field", async () => {
    vi.mocked(client.POST).mockResolvedValue(answered(refusal, 422));
    page();
    await userEvent.click(screen.getByRole("button", { name: "New site" }));
    await userEvent.type(screen.getByRole("textbox", { name: "Name" }), "Harbour");
    await userEvent.click(screen.getByRole("button", { name: "Make it" }));
    const box = screen.getByRole("textbox", { name: "Name" }) as HTMLInputElement;
    await vi.waitFor(() => expect(box.getAttribute("aria-invalid")).toBe("true"), 30_000);
    expect(box.value).toBe("Harbour");
    expect(screen.getByText(/A name is needed/)).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Cancel" }));
    await userEvent.click(screen.getByRole("button", { name: "New site", hidden: true }));
    expect(screen.queryByText(/A name is needed/)).toBeNull();
  });

  it("renames from the name that there is", async () => {
    page();
    await userEvent.click((await screen.findAllByRole("button", { name: "Rename" }))[0]);
    const box = screen.getByRole("textbox", { name: "Name" }) as HTMLInputElement;
    expect(box.value).toBe("Quarry");
    await userEvent.clear(box);
    await userEvent.type(box, "Old quarry{Enter}");
    expect(client.PATCH).toHaveBeenCalledWith("/api/sites/{site_id}", {
      params: { path: { site_id: "a" } },
      body: { name: "Old quarry" },
    });
  });

  it("brings back what was deleted", async () => {
    page();
    await userEvent.click((await screen.findAllByRole("button", { name: "Delete" }))[1]);
    expect(await screen.findByText("“Yard” was deleted.")).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Undo" }));
    expect(client.POST).toHaveBeenCalledWith("/api/sites/{site_id}/restore", { params: { path: { site_id: "b" } } });
    await vi.waitFor(() => expect(screen.queryByText("“Yard” was deleted.")).toBeNull(), 30_000);
  });
});
