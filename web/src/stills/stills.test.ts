import { describe, expect, it } from "vitest";
import type { JobState } from "../api/client";
import { heightOf, pictureOf, regionBetween, withJob } from "./stills";

const job = (values: Partial<JobState>): JobState =>
  ({ id: "j", kind: "still", state: "running", result: {}, message: "", ...values }) as JobState;
const still = (values = {}) =>
  ({ id: "s", name: "Yard", picture: "a.png", wanted: 16, samples: 1, job: job({}), ...values }) as never;

describe("stills", () => {
  it("are as high as the frame of their shot has it", () => {
    expect(heightOf({ frame: "3:2" }, 1920)).toBe(1280);
    expect(heightOf({ frame: "2.39:1" }, 1920)).toBe(803);
    expect(heightOf({ frame: "4:5" }, 640)).toBe(800);
  });

  it("show the newest picture that was told of, and whether more comes", () => {
    expect(withJob(still(), {})).toMatchObject({ picture: "a.png", going: true });
    const told = withJob(still(), { j: job({ result: { picture: "b.png" } }) });
    expect(told.picture).toBe("b.png");
    expect(withJob(still(), { j: job({ state: "done" }) }).going).toBe(false);
    expect(withJob(still({ job: null }), {})).toMatchObject({ job: null, going: false });
  });

  it("have another address for each picture", () => {
    expect(pictureOf({ id: "s", picture: "a b.png" })).toBe("/api/stills/s/picture?of=a%20b.png");
  });

  it("take a part that is drawn in any direction, within the picture", () => {
    expect(regionBetween([0.75, 0.5], [0.25, 1.2])).toEqual([0.25, 0.5, 0.75, 1]);
    expect(regionBetween([0.5, 0.5], [0.505, 0.9])).toBeNull();
  });
});
