import { QueryObserver } from "@tanstack/react-query";
import { describe, expect, it } from "vitest";
import { Asking } from "./asking";

/** asked is a query whose answers come when they are let go. */
function asked() {
  const queries = new Asking({ defaultOptions: { queries: { staleTime: 60_000, retry: false } } });
  const waiting: ((answer: string) => void)[] = [];
  const observer = new QueryObserver(queries, {
    queryKey: ["pages"],
    queryFn: () => new Promise<string>((yes) => waiting.push(yes)),
  });
  const end = observer.subscribe(() => undefined);
  const next = async (answer: string) => {
    await expect.poll(() => waiting.length).toBeGreaterThan(0);
    waiting.shift()!(answer);
  };
  return { queries, observer, waiting, next, end };
}

describe("what has changed", () => {
  it("is asked for again although it is being asked for the first time", async () => {
    const { queries, observer, waiting, next, end } = asked();
    const again = queries.invalidateQueries({ queryKey: ["pages"] });
    await next("from before");
    await next("from after");
    await again;
    expect(observer.getCurrentResult().data).toBe("from after");
    expect(waiting).toHaveLength(0);
    end();
  });

  it("is asked for once where an answer is there, or something else has changed", async () => {
    const { queries, observer, waiting, next, end } = asked();
    await next("first");
    await expect.poll(() => observer.getCurrentResult().data).toBe("first");
    void queries.invalidateQueries({ queryKey: ["sizes"] });
    const again = queries.invalidateQueries({ queryKey: ["pages"] });
    await next("second");
    await again;
    expect(observer.getCurrentResult().data).toBe("second");
    expect(waiting).toHaveLength(0);
    end();
  });
});
