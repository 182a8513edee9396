import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it } from "vitest";
import { LostFiles } from "./LostFiles";

afterEach(cleanup);

const barn = { field: "structures/1/source/mesh", name: "Barn", message: "Barn: a box of 1 m stands in for its mesh." };
const ground = { field: "ground/height_map/map", name: "The ground", message: "The ground: humps stand in." };

describe("files that are lost", () => {
  it("are told until they are put aside, and again when others are lost", async () => {
    const { rerender } = render(<LostFiles lost={[barn]} />);
    expect(screen.getByRole("alert").textContent).toContain("a box of 1 m stands in");
    await userEvent.click(screen.getByRole("button", { name: "Put aside" }));
    expect(screen.queryByRole("alert")).toBeNull();
    rerender(<LostFiles lost={[barn, ground]} />);
    expect(screen.getByRole("alert").textContent).toContain("humps stand in");
  });

  it("are not spoken of where none are", () => {
    render(<LostFiles lost={[]} />);
    expect(screen.queryByRole("alert")).toBeNull();
  });
});
