import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { focusPicked, focusRegion } from "./regions";

const focus = () => document.activeElement?.id;

describe("regions of the page", () => {
  beforeEach(() => {
    vi.spyOn(Element.prototype, "getClientRects").mockReturnValue([{}] as never);
    document.body.innerHTML = `
      <nav data-region><input id="find" />
        <section data-part="weather"><button id="head"></button><button id="moss" data-row aria-pressed="true"></button></section>
      </nav>
      <main data-region tabindex="-1" id="view"><button disabled></button>
        <section data-region><button tabindex="-1" id="passed"></button><button id="years"></button></section>
      </main>
      <section data-region tabindex="-1" id="bench"><p>nothing to press</p></section>`;
  });
  afterEach(() => vi.restoreAllMocks());

  it("are gone through in order, on to what can have the focus, and round", () => {
    const seen = Array.from({ length: 5 }, () => (focusRegion(false), focus()));
    expect(seen).toEqual(["find", "years", "bench", "find", "years"]);
  });

  it("are gone through backwards as well, from the end where nothing has the focus", () => {
    const seen = Array.from({ length: 3 }, () => (focusRegion(true), focus()));
    expect(seen).toEqual(["bench", "years", "find"]);
  });

  it("lead back to what is picked, or to the head of its part", () => {
    focusPicked("weather");
    expect(focus()).toBe("moss");
    document.getElementById("moss")!.setAttribute("aria-pressed", "false");
    focusPicked("weather");
    expect(focus()).toBe("head");
  });
});
