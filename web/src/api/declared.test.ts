import { describe, expect, it } from "vitest";
import { declaredGroup, declaredKind, defaultsOf, readable, shown } from "./declared";

describe("declared parameters", () => {
  it("come with range, unit and help from the core's own declaration", () => {
    const years = declaredGroup("Climate").years;
    expect(years).toMatchObject({ minimum: 0, maximum: 100, unit: "years", default: 25 });
    expect(years.description).toMatch(/nobody has looked after/);
    expect(declaredKind("noise")).not.toHaveProperty("kind");
    expect(declaredKind("noise").size.unit).toBe("m");
  });

  it("are the same objects each time, so that unchanged forms stay as they are", () => {
    expect(declaredKind("moss")).toBe(declaredKind("moss"));
  });

  it("give the values that something begins with", () => {
    expect(defaultsOf("crevice")).toEqual({ kind: "crevice", radius: 0.6 });
    expect(defaultsOf("slope")).toEqual({ kind: "slope" });
  });

  it("read well", () => {
    expect(readable("wall_height")).toBe("Wall height");
    expect(shown(0.123456, 0.01)).toBe("0.12");
    expect(shown(1234.5, 1)).toBe("1,235");
    expect(shown(3, 0.01)).toBe("3");
  });
});
