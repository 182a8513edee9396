import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useRef, useState } from "react";
import { afterEach, describe, expect, it } from "vitest";
import { useRoving } from "./useRoving";

function Rows() {
  const box = useRef<HTMLDivElement>(null);
  useRoving(box);
  const [rows, setRows] = useState(["Moss", "Rust", "Snow"]);
  return (
    <>
      <div ref={box}>
        {rows.map((name) => (
          <div key={name} data-line>
            <button data-row>{name}</button>
            <button onClick={() => setRows(rows.filter((one) => one !== name))}>Delete {name}</button>
          </div>
        ))}
      </div>
      <button>After</button>
    </>
  );
}

const focus = () => document.activeElement?.textContent;

afterEach(cleanup);

describe("a roving focus", () => {
  it("is one stop of Tab, and remembers where it was", async () => {
    const user = userEvent.setup();
    render(<Rows />);
    await user.tab();
    expect(focus()).toBe("Moss");
    await user.keyboard("{ArrowDown}{ArrowRight}");
    expect(focus()).toBe("Delete Rust");
    await user.tab();
    expect(focus()).toBe("After");
    await user.tab({ shift: true });
    expect(focus()).toBe("Delete Rust");
    await user.keyboard("{End}");
    expect(focus()).toBe("Snow");
    await user.keyboard("{ArrowDown}{ArrowRight}{ArrowRight}");
    expect(focus()).toBe("Delete Snow");
  });

  it("goes to the neighbour of what is deleted", async () => {
    const user = userEvent.setup();
    render(<Rows />);
    await user.tab();
    await user.keyboard("{ArrowDown}{ArrowRight}{Enter}");
    expect(focus()).toBe("Delete Snow");
    await user.keyboard("{Enter}");
    expect(focus()).toBe("Delete Moss");
  });

  it("leaves arrows to others after a press of the pointer", async () => {
    const user = userEvent.setup();
    render(<Rows />);
    fireEvent.pointerDown(screen.getByText("Rust"));
    screen.getByText("Rust").focus();
    await user.keyboard("{ArrowDown}");
    expect(focus()).toBe("Rust");
    await user.keyboard("{F6}{ArrowDown}");
    expect(focus()).toBe("Snow");
  });
});
