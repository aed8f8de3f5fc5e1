/** gridFor says in how many columns some pictures of about one aspect ratio are seen largest in a place of so many pixels. */
export function gridFor(pictures: number, width: number, height: number, aspect: number) {
  let best = 1;
  let largest = 0;
  for (let columns = 1; columns <= pictures; columns++) {
    const w = width / columns;
    const h = height / Math.ceil(pictures / columns);
    const shown = Math.min(w, h * aspect) ** 2 / aspect;
    if (shown >= largest * 0.99) {
      largest = shown;
      best = columns;
    }
  }
  return best;
}
