import { expect, test } from "vitest";
import { awaited, type Lost } from "./again";

const file = (name: string, size: number, path = "") => ({ file: new File([new Uint8Array(size)], name), path });
const lost = (code: string, name: string, bytes: number, path = ""): Lost => ({ code, intake: 7, name, path, bytes, announced: false });

test("files that are dropped again join the intake that waits for them", () => {
  const waits = [lost("a", "1.jpg", 10, "Walk"), lost("b", "1.jpg", 10, "Beach"), lost("c", "2.jpg", 20, "Walk")];
  const { again, others } = awaited([file("1.jpg", 10, "Beach"), file("2.jpg", 20), file("2.jpg", 21, "Walk"), file("3.jpg", 5)], waits);
  expect(again.map((a) => a.sending.code)).toEqual(["b", "c"]);
  expect(others.map((f) => [f.file.name, f.file.size])).toEqual([
    ["2.jpg", 21],
    ["3.jpg", 5],
  ]);
});

test("each of them is taken once, and nothing is guessed between two", () => {
  const waits = [lost("a", "1.jpg", 10, "Walk"), lost("b", "1.jpg", 10, "Beach")];
  const { again, others } = awaited([file("1.jpg", 10, "Elsewhere"), file("1.jpg", 10, "Walk"), file("1.jpg", 10, "Walk")], waits);
  expect(again.map((a) => a.sending.code)).toEqual(["a", "b"]);
  expect(others).toHaveLength(1);
});
