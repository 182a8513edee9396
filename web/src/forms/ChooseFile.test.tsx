import { cleanup, render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, expect, it, vi } from "vitest";
import { ChooseFile } from "./ChooseFile";

afterEach(cleanup);

it("opens the choice of files by the keyboard, and gives what was chosen, the same again as well", async () => {
  const onChoose = vi.fn();
  render(
    <ChooseFile label="A mesh" accept=".glb" onChoose={onChoose}>
      Choose a file
    </ChooseFile>,
  );
  const input = screen.getByLabelText("A mesh") as HTMLInputElement;
  const opened = vi.spyOn(input, "click");
  await userEvent.tab();
  expect(document.activeElement).toBe(screen.getByRole("button", { name: "Choose a file" }));
  await userEvent.keyboard("{Enter}");
  expect(opened).toHaveBeenCalledTimes(1);
  const file = new File(["x"], "rock.glb");
  await userEvent.upload(input, file);
  await userEvent.upload(input, file);
  expect(onChoose.mock.calls).toEqual([[[file]], [[file]]]);
});
