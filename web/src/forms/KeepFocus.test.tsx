import { act } from "react";
import { createRoot, type Root } from "react-dom/client";
import { afterEach, beforeEach, describe, expect, it } from "vitest";
import { KeepFocus } from "./KeepFocus";

(globalThis as { IS_REACT_ACT_ENVIRONMENT?: boolean }).IS_REACT_ACT_ENVIRONMENT = true;

describe("a part that keeps the focus", () => {
  let root: Root;
  beforeEach(() => {
    document.body.innerHTML = '<button id="aside"></button><div id="root"></div>';
    root = createRoot(document.getElementById("root")!);
  });
  afterEach(() => act(() => root.unmount()));
  const show = (...rows: string[]) =>
    act(() =>
      root.render(
        <KeepFocus aria-label="Rows">
          {rows.map((row) => (
            <button key={row} id={row} />
          ))}
        </KeepFocus>,
      ),
    );
  const settle = () => act(async () => Promise.resolve());

  it("takes it where the row that had it is gone", async () => {
    await show("one", "two");
    document.getElementById("two")!.focus();
    await show("one");
    await settle();
    expect(document.activeElement?.getAttribute("aria-label")).toBe("Rows");
  });

  it("leaves it where it went of itself", async () => {
    await show("one", "two");
    document.getElementById("two")!.focus();
    document.getElementById("aside")!.focus();
    await show("one");
    await settle();
    expect(document.activeElement?.id).toBe("aside");
  });
});
