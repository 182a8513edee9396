import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import { client } from "../api/client";
import { SignIn } from "./SignIn";

afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});

const queries = () => new QueryClient({ defaultOptions: { queries: { retry: false } } });
const shown = (failed = false, at = queries()) => {
  render(
    <QueryClientProvider client={at}>
      <SignIn failed={failed} />
    </QueryClientProvider>,
  );
  return at;
};
const fill = async () => {
  await userEvent.type(screen.getByRole("textbox", { name: /^Name/ }), "ada");
  await userEvent.type(screen.getByLabelText(/^Password/), "long enough{Enter}");
};

describe("signing in", () => {
  it("takes the session that it is answered with", async () => {
    const session = { user: "ada", csrf: "token" };
    vi.spyOn(client, "POST").mockResolvedValue({ data: session, response: new Response() } as never);
    const at = shown();
    await fill();
    expect(client.POST).toHaveBeenCalledWith("/api/session", { body: { user: "ada", password: "long enough" } });
    await vi.waitFor(() => expect(at.getQueryData(["session"])).toEqual(session), 30_000);
  });

  it("says what is wrong and keeps the name that was typed", async () => {
    const error = { message: "The name or the password is wrong." };
    vi.spyOn(client, "POST").mockResolvedValue({ error, response: new Response(null, { status: 422 }) } as never);
    shown();
    await fill();
    expect((await screen.findByRole("alert")).textContent).toBe("The name or the password is wrong.");
    expect((screen.getByRole("textbox", { name: /^Name/ }) as HTMLInputElement).value).toBe("ada");
  });

  it("says how to start the server where that cannot be reached", () => {
    shown(true);
    expect(screen.getByRole("alert").textContent).toContain("./cenote start");
  });
});
