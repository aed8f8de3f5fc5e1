/** The few fixed words of an embed, in the language of the page that holds it. */
const all: Record<string, [string, string, string, string]> = {
  en: ["Close", "Previous", "Next", "Play"],
  de: ["Schließen", "Zurück", "Weiter", "Abspielen"],
  fr: ["Fermer", "Précédente", "Suivante", "Lire"],
  es: ["Cerrar", "Anterior", "Siguiente", "Reproducir"],
};

export function wordsFor(language: string) {
  const [close, previous, next, play] = all[language.slice(0, 2).toLowerCase()] ?? all.en!;
  return { close, previous, next, play };
}
