import type { Operation } from "../api/client";

type Tree = Record<string, unknown> | unknown[];

function steps(path: string): string[] {
  return path
    .split("/")
    .slice(1)
    .map((step) => step.replaceAll("~1", "/").replaceAll("~0", "~"));
}

function changed(node: unknown, at: string[], operation: Operation): unknown {
  if (!at.length) return operation.value;
  const [step, ...rest] = at;
  if (Array.isArray(node)) {
    const copy = [...node];
    const index = step === "-" ? copy.length : Number(step);
    if (rest.length) copy[index] = changed(copy[index], rest, operation);
    else if (operation.op === "remove") copy.splice(index, 1);
    else if (operation.op === "add") copy.splice(index, 0, operation.value);
    else copy[index] = operation.value;
    return copy;
  }
  const copy = { ...(node as Record<string, unknown>) };
  if (rest.length) copy[step] = changed(copy[step], rest, operation);
  else if (operation.op === "remove") delete copy[step];
  else copy[step] = operation.value;
  return copy;
}

/** Apply operations of a JSON Patch (RFC 6902: add, remove, replace) without touching the given document. */
export function applyOperations<Doc>(document: Doc, operations: Operation[]): Doc {
  return operations.reduce<Doc>(
    (doc, operation) => changed(doc as Tree, steps(operation.path), operation) as Doc,
    document,
  );
}

/** The value at a path, or undefined. */
export function valueAt(document: unknown, path: string): unknown {
  return steps(path).reduce<unknown>((node, step) => (node as Record<string, unknown> | undefined)?.[step], document);
}
