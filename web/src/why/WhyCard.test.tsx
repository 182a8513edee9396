import { cleanup, render, screen } from "@testing-library/react";
import { afterEach, describe, expect, it } from "vitest";
import type { WhyAnswer } from "../api/client";
import { useView } from "../site/store";
import { clear } from "../testing/onSite";
import { WhyCard } from "./WhyCard";

const PROBE = { what: "probe", instead: null } as const;

afterEach(() => {
  cleanup();
  clear();
});

const answer = (values: object = {}) =>
  ({ surface: "Wall", item: "", measuring: false, layers: [], ...values }) as unknown as WhyAnswer;
const asked = (values: object) =>
  useView.setState({ inHand: PROBE, asked: { x: 400, y: 300, answer: null, problem: "", ...values } });
const reason = (words: string, weight: number, share: number) => ({ card: words, words, weight, share });

describe("why something is there", () => {
  it("is not told unless it is asked", () => {
    const { container } = render(<WhyCard />);
    expect(container.textContent).toBe("");
  });

  it("says what to do until the pointer rests on something", () => {
    useView.setState({ inHand: PROBE });
    render(<WhyCard />);
    expect(screen.getByRole("status").textContent).toContain("Rest the pointer on anything");
  });

  it("is what is measured, not a guess before that", () => {
    asked({ answer: answer({ measuring: true, layers: [{ layer: "moss", words: "Moss", reasons: [] }] }) });
    render(<WhyCard />);
    expect(screen.getByRole("dialog", { name: "Why here" }).textContent).toBe(
      "Still being measured; the answer follows.",
    );
  });

  it("names the surface, the item, and each reason with its weight and share", () => {
    const reasons = [reason("Slope is 12°", 0.5, 0.25), reason("Sky is 0.9", 1, 0.001), reason("Damp", 0.2, -0.1)];
    const layers = [{ layer: "moss", name: "Moss", words: "Moss reaches 40 % here.", reasons }];
    asked({ answer: answer({ item: "Fern", layers }) });
    render(<WhyCard />);
    const card = screen.getByRole("dialog", { name: "Why here" });
    expect(card.textContent).toContain("On Wall · Fern");
    expect(card.textContent).toContain("Moss reaches 40 % here.");
    const counts = screen.getAllByRole("img").map((one) => one.getAttribute("aria-label"));
    expect(counts).toEqual(["Counts 50 %", "Counts 100 %", "Counts 20 %"]);
    // What takes away is told by a minus, what adds by a plus, and what matters nothing not at all.
    expect(card.textContent).toContain("−0.25");
    expect(card.textContent).toContain("+0.1");
    expect(card.textContent).not.toContain("0.001");
  });

  it("says that no layer is laid on it, and what went wrong", () => {
    asked({ answer: answer() });
    const { unmount } = render(<WhyCard />);
    expect(screen.getByText("No layer is laid on it.")).toBeTruthy();
    unmount();
    asked({ problem: "The server does not answer." });
    render(<WhyCard />);
    expect(screen.getByText("The server does not answer.")).toBeTruthy();
  });
});
