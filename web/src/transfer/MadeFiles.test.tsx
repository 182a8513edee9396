import { screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import { clear, onSite, SITE } from "../testing/onSite";
import { MadeFiles } from "./MadeFiles";

afterEach(clear);

const file = (job: string, values: object = {}) => ({
  job, title: "Yard", ending: ".glb", about: "Instanced", bytes: 12_345_678, made: "2026-11-02T10:30:00Z", ...values,
}); // prettier-ignore

describe("files that were written before", () => {
  it("are listed with what they are, and fetched by their own names", () => {
    const files = [file("a"), file("b", { title: "Brick", ending: ".zip" })];
    onSite(<MadeFiles />, {}, [[["files", SITE], files]]);
    const links = screen.getAllByRole("link", { name: /^Fetch/ });
    expect(links.map((one) => one.getAttribute("href"))).toEqual(["/api/jobs/a/file", "/api/jobs/b/file"]);
    expect(links[1].getAttribute("aria-label")).toMatch(/^Fetch Brick\.zip of /);
    expect(screen.getAllByText(/Instanced · 12\.3 MB · /)).toHaveLength(2);
  });

  it("do not name the one that has just been written a second time", () => {
    onSite(<MadeFiles besides="a" />, {}, [[["files", SITE], [file("a")]]]);
    expect(screen.queryByRole("region", { name: "Written before" })).toBeNull();
  });
});
