/** The fixed words of a gallery, in the languages that guests' browsers ask for. */
const english = {
  locale: "en-GB",
  gallery: "Gallery",
  none: "There is no gallery here",
  closed: "This gallery is closed",
  closedText: "It was open for a while, and is not any more. If you still need the pictures, ask the people at {brand}.",
  uninvited: "This gallery is for people who were invited",
  uninvitedText: "Open it by the link in your letter. If it does not work any more, ask the people at {brand}.",
  password: "Password",
  see: "See the pictures",
  pictures: "Pictures",
  picture: "Picture",
  onePicture: "1 picture",
  nPictures: "{n} pictures",
  empty: "There are no pictures here yet.",
  lookOnly: "for looking at",
  until: "open until {day}",
  download: "Download",
  downloadAll: "Download all {n}",
  downloadChapter: "Download this chapter",
  downloadMarked: "Download {n} from this list",
  original: "Original file",
  upTo: "up to {n} pixels",
  big: "See {title} big",
  close: "Close",
  before: "Before",
  next: "Next",
  of: "{at} of {n}",
  play: "Play as a slideshow",
  pause: "Pause",
  full: "Full screen",
  share: "Share",
  copied: "The link to this picture is copied.",
  shown: "Shown with Bright Satchel",
};

export type Words = typeof english;

const german: Words = {
  locale: "de-DE",
  gallery: "Galerie",
  none: "Hier ist keine Galerie",
  closed: "Diese Galerie ist geschlossen",
  closedText: "Sie war eine Zeit lang offen und ist es nicht mehr. Wenn Sie die Bilder noch brauchen, fragen Sie bei {brand} nach.",
  uninvited: "Diese Galerie ist für eingeladene Gäste",
  uninvitedText: "Öffnen Sie sie über den Link in Ihrem Brief. Wenn er nicht mehr gilt, fragen Sie bei {brand} nach.",
  password: "Passwort",
  see: "Bilder ansehen",
  pictures: "Bilder",
  picture: "Bild",
  onePicture: "1 Bild",
  nPictures: "{n} Bilder",
  empty: "Hier sind noch keine Bilder.",
  lookOnly: "nur zum Ansehen",
  until: "offen bis {day}",
  download: "Herunterladen",
  downloadAll: "Alle {n} herunterladen",
  downloadChapter: "Dieses Kapitel herunterladen",
  downloadMarked: "{n} aus dieser Liste herunterladen",
  original: "Originaldatei",
  upTo: "bis {n} Pixel",
  big: "{title} groß ansehen",
  close: "Schließen",
  before: "Zurück",
  next: "Weiter",
  of: "{at} von {n}",
  play: "Als Diaschau abspielen",
  pause: "Pause",
  full: "Vollbild",
  share: "Teilen",
  copied: "Der Link zu diesem Bild ist kopiert.",
  shown: "Gezeigt mit Bright Satchel",
};

const french: Words = {
  locale: "fr-FR",
  gallery: "Galerie",
  none: "Il n’y a pas de galerie ici",
  closed: "Cette galerie est fermée",
  closedText: "Elle a été ouverte un certain temps et ne l’est plus. S’il vous faut encore les images, adressez-vous à {brand}.",
  uninvited: "Cette galerie est réservée aux personnes invitées",
  uninvitedText: "Ouvrez-la par le lien de votre lettre. S’il ne marche plus, adressez-vous à {brand}.",
  password: "Mot de passe",
  see: "Voir les images",
  pictures: "Images",
  picture: "Image",
  onePicture: "1 image",
  nPictures: "{n} images",
  empty: "Il n’y a pas encore d’images ici.",
  lookOnly: "à regarder seulement",
  until: "ouverte jusqu’au {day}",
  download: "Télécharger",
  downloadAll: "Tout télécharger ({n})",
  downloadChapter: "Télécharger ce chapitre",
  downloadMarked: "Télécharger {n} de cette liste",
  original: "Fichier original",
  upTo: "jusqu’à {n} pixels",
  big: "Voir {title} en grand",
  close: "Fermer",
  before: "Précédente",
  next: "Suivante",
  of: "{at} sur {n}",
  play: "Lire en diaporama",
  pause: "Pause",
  full: "Plein écran",
  share: "Partager",
  copied: "Le lien vers cette image est copié.",
  shown: "Présenté avec Bright Satchel",
};

const spanish: Words = {
  locale: "es-ES",
  gallery: "Galería",
  none: "Aquí no hay ninguna galería",
  closed: "Esta galería está cerrada",
  closedText: "Estuvo abierta un tiempo y ya no lo está. Si aún necesita las imágenes, pregunte en {brand}.",
  uninvited: "Esta galería es para personas invitadas",
  uninvitedText: "Ábrala con el enlace de su carta. Si ya no funciona, pregunte en {brand}.",
  password: "Contraseña",
  see: "Ver las imágenes",
  pictures: "Imágenes",
  picture: "Imagen",
  onePicture: "1 imagen",
  nPictures: "{n} imágenes",
  empty: "Aquí todavía no hay imágenes.",
  lookOnly: "solo para mirar",
  until: "abierta hasta el {day}",
  download: "Descargar",
  downloadAll: "Descargar las {n}",
  downloadChapter: "Descargar este capítulo",
  downloadMarked: "Descargar {n} de esta lista",
  original: "Archivo original",
  upTo: "hasta {n} píxeles",
  big: "Ver {title} en grande",
  close: "Cerrar",
  before: "Anterior",
  next: "Siguiente",
  of: "{at} de {n}",
  play: "Ver como presentación",
  pause: "Pausa",
  full: "Pantalla completa",
  share: "Compartir",
  copied: "El enlace a esta imagen está copiado.",
  shown: "Mostrado con Bright Satchel",
};

const all: Record<string, Words> = { en: english, de: german, fr: french, es: spanish };

/** wordsFor are the words in the first language that a browser asks for and that is here. */
export function wordsFor(languages: readonly string[]): Words {
  for (const language of languages) {
    const words = all[language.slice(0, 2).toLowerCase()];
    if (words) return words;
  }
  return english;
}

/** words are those for this browser. */
export const words = wordsFor(typeof navigator === "undefined" ? [] : navigator.languages);

/** fill puts values into words. */
export const fill = (text: string, values: Record<string, string | number>) =>
  text.replace(/\{(\w+)\}/g, (_, name: string) =>
    typeof values[name] === "number" ? values[name].toLocaleString(words.locale) : (values[name] ?? ""),
  );

/** pictures says how many there are. */
export const pictures = (n: number) => (n === 1 ? words.onePicture : fill(words.nPictures, { n }));
