/** focalPosition is the CSS object-position with which a picture that fills a box shows its focal point in the middle, or as near
 * to it as its edges allow. The focal point is in fractions of the picture, from its left and its top. */
export function focalPosition(box: Size, picture: Size, focal: { x: number; y: number }) {
  const scale = Math.max(box.width / picture.width, box.height / picture.height);
  const along = (visible: number, whole: number, at: number) => {
    const rest = whole - visible;
    if (rest <= 0.5) return 50;
    return Math.round(100 * Math.max(0, Math.min(1, (at * whole - visible / 2) / rest)));
  };
  return `${along(box.width, picture.width * scale, focal.x)}% ${along(box.height, picture.height * scale, focal.y)}%`;
}

interface Size {
  width: number;
  height: number;
}
