import { describe, expect, it } from "vitest";
import { fill, wordsFor } from "./words";

describe("the words of a gallery", () => {
  it("come in the first language that is here", () => {
    expect(wordsFor(["pt-PT", "de-AT", "en"]).close).toBe("Schließen");
    expect(wordsFor(["fr"]).next).toBe("Suivante");
    expect(wordsFor(["ES-mx"]).close).toBe("Cerrar");
    expect(wordsFor(["ja"]).close).toBe("Close");
    expect(wordsFor([]).close).toBe("Close");
  });
  it("have the same gaps in every language", () => {
    const gaps = (text: string) => (text.match(/\{\w+\}/g) ?? []).sort();
    const english = wordsFor(["en"]);
    for (const language of ["de", "fr", "es"])
      for (const [name, text] of Object.entries(wordsFor([language])))
        expect(gaps(text), `${language} ${name}`).toEqual(gaps(english[name as keyof typeof english]));
  });
  it("take values as they are", () => {
    expect(fill("{at} of {n}", { at: 3, n: 1200 })).toBe("3 of 1,200");
    expect(fill("See {title} big", { title: "$& {n}" })).toBe("See $& {n} big");
  });
});
