import { fireEvent, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it } from "vitest";
import type { SignalCard } from "../api/client";
import { useDocument } from "../site/context";
import { clear, made, onSite, vocabulary } from "../testing/onSite";
import { WhereSection } from "./WhereSection";

afterEach(clear);

const card = (id: string, kind: string, values: Partial<SignalCard> = {}): SignalCard =>
  ({
    ...made<object>("SignalCard", { id, signal: { kind }, starts_at: 0, full_at: 40 }),
    combine: "multiply",
    inverted: false,
    enabled: true,
    soft: true,
    ...values,
  }) as SignalCard;

function chain(cards: SignalCard[], more: object = {}) {
  const where = { cards, shared: "" };
  const site = { weather: [{ id: "moss", name: "Moss", surfaces: ["ground"], where }], wheres: [], ...more };
  return onSite(<Section />, site);
}

/** As the bench shows it: with whatever the document says now. */
function Section() {
  const { where } = useDocument().weather[0];
  return <WhereSection where={where} path="/weather/0/where" subject="Moss" vocabulary={vocabulary} />;
}

const cardOf = (title: string) => screen.getByRole("article", { name: `${title} card` });

describe("the chain of cards", () => {
  it("says that it is everywhere while it has none, and takes on the usual ramp of a new one", async () => {
    const { commits } = chain([]);
    expect(screen.getByText("everywhere, until a signal says where")).toBeTruthy();
    await userEvent.click(screen.getByRole("button", { name: "Add a signal" }));
    await userEvent.click(screen.getByRole("menuitem", { name: /^Sky exposure/ }));
    expect(commits[0].label).toBe("Moss: add sky exposure");
    expect(commits[0].operations[0]).toMatchObject({
      op: "add",
      path: "/weather/0/where/cards/-",
      value: { signal: { kind: "sky" }, starts_at: 0, full_at: 1, combine: "multiply", enabled: true },
    });
    expect(cardOf("Sky exposure")).toBeTruthy();
  });

  it("tells in the menu what costs rays", async () => {
    chain([]);
    await userEvent.click(screen.getByRole("button", { name: "Add a signal" }));
    const rays = screen.getAllByRole("menuitem").filter((one) => one.textContent!.includes("Measured by rays"));
    expect(rays.map((one) => one.textContent!.slice(0, 12))).toEqual(["Sky exposure"]);
  });

  it("joins all cards but the first, by words that say how", async () => {
    const { commits } = chain([card("a", "slope"), card("b", "sky")]);
    expect(within(cardOf("Slope")).queryByLabelText(/joins/)).toBeNull();
    const how = within(cardOf("Sky exposure")).getByLabelText("How Sky exposure joins");
    expect([...how.querySelectorAll("option")].map((one) => one.textContent)).toEqual([
      "and",
      "or",
      "at most",
      "add",
      "but not",
    ]);
    await userEvent.selectOptions(how, "but not");
    expect(commits[0].operations).toEqual([
      { op: "replace", path: "/weather/0/where/cards/1/combine", value: "subtract" },
    ]);
  });

  it("is full at sixteen", () => {
    chain(Array.from({ length: 16 }, (_, row) => card(`c${row}`, "slope")));
    expect(screen.getByRole("button", { name: "Add a signal" }).hasAttribute("disabled")).toBe(true);
  });

  it("is put in another order by its cards' settings, as far as there is a place to go", async () => {
    const { commits, document } = chain([card("a", "slope"), card("b", "sky"), card("c", "distance")]);
    await userEvent.click(screen.getByRole("button", { name: "Slope settings" }));
    expect(screen.getByRole("button", { name: "Earlier" }).getAttribute("aria-disabled")).toBe("true");
    await userEvent.click(screen.getByRole("button", { name: "Earlier" }));
    expect(commits).toEqual([]);
    await userEvent.click(screen.getByRole("button", { name: "Later" }));
    expect(document().weather[0].where.cards.map((one) => one.id)).toEqual(["b", "a", "c"]);
  });
});

describe("a card", () => {
  it("is inverted, set aside and removed by one press each", async () => {
    const { commits } = chain([card("a", "slope")]);
    await userEvent.click(screen.getByRole("button", { name: "Invert: count where it does not" }));
    await userEvent.click(screen.getByRole("button", { name: "On: takes part in the mask" }));
    await userEvent.click(screen.getByRole("button", { name: "Delete Slope" }));
    expect(commits.map(({ operations: [one] }) => [one.op, one.path, one.value])).toEqual([
      ["replace", "/weather/0/where/cards/0/inverted", true],
      ["replace", "/weather/0/where/cards/0/enabled", false],
      ["remove", "/weather/0/where/cards/0", undefined],
    ]);
    expect(screen.queryByRole("article")).toBeNull();
  });

  it("has both ends of its ramp under the arrow keys, ten steps with Shift, within the signal's range", () => {
    const { commits } = chain([card("a", "slope", { starts_at: 0, full_at: 178 })]);
    fireEvent.keyDown(screen.getByRole("slider", { name: "Starts at" }), { key: "ArrowLeft" });
    fireEvent.blur(screen.getByRole("slider", { name: "Starts at" }));
    expect(commits[commits.length - 1].operations[0].value).toBe(0);
    fireEvent.keyDown(screen.getByRole("slider", { name: "Full at" }), { key: "ArrowRight", shiftKey: true });
    fireEvent.blur(screen.getByRole("slider", { name: "Full at" }));
    expect(commits[commits.length - 1].operations[1]).toMatchObject({
      path: "/weather/0/where/cards/0/full_at",
      value: 180,
    });
  });

  it("takes typed ends, in its unit", async () => {
    const { commits } = chain([card("a", "slope")]);
    const box = screen.getByRole("textbox", { name: "Full at" });
    expect(screen.getByRole("slider", { name: "Full at" }).getAttribute("aria-valuetext")).toBe("40 °");
    await userEvent.clear(box);
    await userEvent.type(box, "55,5{Enter}");
    expect(commits[0].operations.map((one) => one.value)).toEqual([0, 55.5]);
  });

  it("goes back to its usual ramp by a double click", () => {
    const { commits } = chain([card("a", "slope", { starts_at: 10, full_at: 20 })]);
    fireEvent.doubleClick(screen.getByTestId("ramp"));
    expect(commits[0].operations.map((one) => one.value)).toEqual([0, 180]);
  });

  it("takes what it looks at from its settings", async () => {
    const { commits } = chain([card("a", "distance", { signal: made("Distance", { kind: "distance" }) })], {
      structures: [{ id: "shed", name: "Old shed" }],
    });
    await userEvent.click(screen.getByRole("button", { name: "Distance settings" }));
    await userEvent.click(screen.getByRole("combobox", { name: /^Objects/ }));
    await userEvent.click(screen.getByRole("option", { name: "Old shed" }));
    expect(commits[0].operations[0]).toMatchObject({
      path: "/weather/0/where/cards/0/signal/objects",
      value: ["shed"],
    });
  });
});
