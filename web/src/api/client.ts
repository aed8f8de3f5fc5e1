import createClient from "openapi-fetch";
import { create } from "zustand";
import { tell, warn } from "~/kit/notes";
import { hurry } from "./hurry";
import { deliver, whenUnheard } from "./outbox";
import type { components, paths } from "./schema.gen";

export type Schema = components["schemas"];
export type Me = Schema["Me"];
export type Action = Schema["Action"];
export type AssetRow = Schema["AssetRow"];
export type Asset = Schema["Asset"];
export type SheetQuery = Schema["SheetQuery"];
export type Selection = Schema["Selection"];
export type Done = Schema["Done"];

/** Acts whose answers are not here yet, with other questions that are put as they are. */
const underWay = new Set<Promise<Response>>();

/** settled waits until what is under way now has its answer, so that an undo never takes back the act before. */
export const settled = () => Promise.allSettled(underWay);

export const client = createClient<paths>({
  baseUrl: window.location.origin,
  fetch: (request) => {
    if (request.method === "GET") return fetch(request);
    const answer = deliver(request);
    underWay.add(answer);
    const end = () => underWay.delete(answer);
    answer.then(end, end);
    return answer;
  },
});

/** ProblemError is what the server answers when something is wrong (RFC 9457). */
export class ProblemError extends Error {
  constructor(readonly problem: Schema["Problem"]) {
    super(problem.detail ?? problem.title);
  }
}

/** useSession says whether somebody is signed in, as far as the last answer told. */
export const useSession = create<{ signedOut: boolean }>(() => ({ signedOut: false }));

/** ask waits for an answer, and throws a ProblemError when it is a problem. */
export async function ask<T>(answer: Promise<{ data?: T; error?: Schema["Problem"]; response: Response }>): Promise<T> {
  let result;
  try {
    result = await answer;
  } catch {
    throw new ProblemError({
      title: "The server does not answer",
      detail: "The server does not answer. Nothing was changed; try again in a moment.",
      status: 0,
    });
  }
  if (result.response.ok) return result.data as T;
  const problem = result.error ?? { title: result.response.statusText, status: result.response.status };
  if (problem.status === 401) useSession.setState({ signedOut: true });
  throw new ProblemError(problem);
}

/** hearUnheard says what became of changes that waited for the connection over a reload. */
export function hearUnheard(brand: string) {
  whenUnheard((response) => {
    void response
      .json()
      .then((said: Done & Schema["Problem"]) => (response.ok ? told(brand, said) : warn(said.detail ?? said.title)))
      .catch(() => undefined);
  });
}

/** messageOf words any error for a person. */
export const messageOf = (error: unknown) => (error instanceof Error ? error.message : "Something went wrong.");

/** act does something that changes the library, says what was done, and offers to undo it. It returns what the server
 * answered, or undefined when it refused, which has been said then. */
export async function act(
  brand: string,
  answer: Promise<{ data?: Done; error?: Schema["Problem"]; response: Response }>,
): Promise<Done | undefined> {
  try {
    return told(brand, await ask(answer));
  } catch (error) {
    warn(messageOf(error));
    return undefined;
  }
}

/** sendFile sends a file as it is to an address that takes one; its name goes along. */
export const sendFile = <T>(address: string, file: File): Promise<{ data?: T; error?: Schema["Problem"]; response: Response }> =>
  fetch(`${address}?name=${encodeURIComponent(file.name)}`, { method: "POST", body: file }).then(async (response) => {
    const said: unknown = await response.json();
    return response.ok ? { data: said as T, response } : { error: said as Schema["Problem"], response };
  });

/** told says what was done, with a way to undo it. */
export function told<D extends { said: string; trail?: number; undone?: boolean }>(brand: string, done: D) {
  hurry();
  const back = done.undone ? { label: "Do it again", run: () => void again(brand, done.trail!) } : undefined;
  tell(done.said, done.trail ? (back ?? { label: "Undo", run: () => void undo(brand, done.trail!) }) : undefined);
  return done;
}

/** undo takes back a trail entry, all of it or what it did to one item, and offers to do it again. It returns what was done, or
 * undefined. */
export async function undo(brand: string, id: number, item?: number) {
  try {
    const done = await ask(client.POST("/api/brands/{brand}/trail/{id}/undo", { params: { path: { brand, id }, query: { item } } }));
    hurry();
    tell(done.said, done.trail ? { label: "Do it again", run: () => void again(brand, done.trail!) } : undefined);
    return done;
  } catch (error) {
    warn(messageOf(error));
    return undefined;
  }
}

/** again does once more what was undone, by taking back the undoing. */
export const again = (brand: string, undoing: number) =>
  act(brand, client.POST("/api/brands/{brand}/trail/{id}/undo", { params: { path: { brand, id: undoing } } }));

/** mediaAddress is where a picture of an item is. The version in it lets browsers keep it for good. */
export function mediaAddress(
  brand: string,
  item: { code: string; version: string },
  size: "small" | "medium" | "large" | "film" | "strip" | "whole-strip" | "original" | `page-${number}`,
) {
  return `/media/${brand}/${item.code}/${size}?v=${item.version}`;
}
