/** Mark is the satchel: its strap, and a saffron flap with its stitching. */
export function Mark({ size = 28 }: { size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 32 32" aria-hidden="true">
      <path d="M6 14C6 6 11 4 16 4s10 2 10 10" fill="none" stroke="currentColor" strokeWidth="2" />
      <path d="M2 13h28v11a4 4 0 0 1-4 4H6a4 4 0 0 1-4-4z" fill="currentColor" />
      <path d="M2 13h28v2l-9 7H11l-9-7z" className="fill-saffron" />
      <path d="M4.500 14.500l7 5.500h9l7-5.500" fill="none" className="stroke-on-saffron" strokeWidth="1" strokeDasharray="2 1.600" />
      <circle cx="16" cy="23" r="1.800" className="fill-saffron" />
    </svg>
  );
}
