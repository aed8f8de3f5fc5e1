/** What the embed looks like, apart from the page that holds it. Lengths that are chosen come as properties. */
export const style = `
:host {
  display:block; container-type:inline-size; background:var(--satchel-background); color:var(--satchel-text);
}
:host([hidden]) {
  display:none;
}
ul {
  margin:0; padding:0; list-style:none; gap:var(--gap);
}
li {
  min-width:0;
}
figure {
  margin:0;
}
figcaption {
  padding:.35em 0 .6em; font-size:.9em; overflow-wrap:anywhere;
}
button,a.to {
  all:unset; display:block; width:100%; position:relative; cursor:pointer; border-radius:var(--corner);
}
button:focus-visible,a.to:focus-visible {
  outline:3px solid; outline-offset:2px;
}
img {
  display:block; width:100%; height:auto; aspect-ratio:var(--shape); object-fit:cover;
  object-position:var(--focal); border-radius:var(--corner); background:var(--tint);
}
.clip::after {
  content:""; position:absolute; left:12px; bottom:12px; border:9px solid transparent;
  border-left:15px solid #fff; border-right:0; filter:drop-shadow(0 0 3px #000);
}
.rows {
  display:flex; flex-wrap:wrap;
}
.rows li {
  flex:calc(var(--shape)*100) 1 calc(var(--shape)*var(--height));
}
.rows li.rest {
  flex:1000000 1 0;
}
.columns {
  display:grid;
  grid-template-columns:repeat(auto-fill,minmax(max(140px,calc((100% - (var(--columns) - 1)*var(--gap))/var(--columns))),1fr));
}
.columns img {
  aspect-ratio:1;
}
.masonry {
  columns:var(--columns) 140px; column-gap:var(--gap);
}
.masonry li {
  break-inside:avoid; padding-bottom:var(--gap);
}
.strip {
  display:flex; overflow-x:auto; scroll-snap-type:x proximity;
}
.strip li {
  flex:none; width:min(calc(var(--shape)*var(--height)),90cqw); scroll-snap-align:start;
}
dialog {
  position:fixed; inset:0; width:100%; height:100%; max-width:none; max-height:none; margin:0; padding:0;
  border:0; background:#0b1413f2; color:#fff;
}
dialog figure {
  position:absolute; inset:52px 0 12px; display:flex; flex-direction:column; align-items:center;
  justify-content:center; touch-action:pan-y pinch-zoom;
}
dialog picture {
  display:contents;
}
dialog img,dialog video {
  flex:0 1 auto; min-height:0; width:auto; max-width:100%; max-height:100%; aspect-ratio:auto; border-radius:0;
  object-fit:contain;
}
dialog nav {
  position:absolute; inset:0 0 auto; display:flex; gap:8px; align-items:center; padding:4px 8px;
}
dialog nav span {
  flex:1; padding:0 8px; font-size:14px; font-variant-numeric:tabular-nums;
}
dialog nav button {
  width:auto; min-width:44px; min-height:44px; padding:0 10px; box-sizing:border-box; text-align:center;
  font-size:15px; border-radius:8px;
}
`;
