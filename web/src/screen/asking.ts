import type { OnScreen } from "./playing";

const tokenKey = "screen-token";

/** ask asks what is to be shown, and waits for a change of what is known. A screen that is not known any more begins anew. */
export async function ask(said: Record<string, string | number | undefined>, until: AbortSignal): Promise<OnScreen> {
  const token = localStorage.getItem(tokenKey) ?? (await begin());
  const query = new URLSearchParams();
  for (const [key, value] of Object.entries(said)) if (value !== undefined && value !== "") query.set(key, String(value));
  const answer = await fetch(`/api/public/screen?${query.toString()}`, {
    headers: { Authorization: `Bearer ${token}` },
    cache: "no-store",
    signal: until,
  });
  if (answer.status === 404) {
    localStorage.removeItem(tokenKey);
    throw new Error("not paired any more");
  }
  if (!answer.ok) throw new Error(`answered ${answer.status}`);
  return (await answer.json()) as OnScreen;
}

async function begin(): Promise<string> {
  const answer = await fetch("/api/public/screen", { method: "POST" });
  if (!answer.ok) throw new Error(`answered ${answer.status}`);
  const { token } = (await answer.json()) as { token: string };
  localStorage.setItem(tokenKey, token);
  return token;
}
