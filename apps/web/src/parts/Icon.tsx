/** Our one set of icons, drawn on 16 x 16 with round lines. */
const shapes = {
  game: [
    'M2.5 6.5c0-1.4 1-2.5 2.4-2.5h6.2c1.4 0 2.4 1.1 2.4 2.5v3.2c0 2-2.2 2.8-3.2 1.2l-.8-1.2H6.5l-.8 1.2c-1 1.6-3.2.8-3.2-1.2z',
    'M5.2 6.2v1.6M4.4 7h1.6M10.6 7h.01',
  ],
  capture: [
    'M2.5 5.5v-2a1 1 0 0 1 1-1h2M10.5 2.5h2a1 1 0 0 1 1 1v2M13.5 10.5v2a1 1 0 0 1-1 1h-2M5.5 13.5h-2a1 1 0 0 1-1-1v-2M6 8h4',
  ],
  size: ['M2.5 2.5h11v11h-11z', 'M2.5 8H8v5.5M13.5 2.5 9.5 6.5M9.5 4v2.5H12'],
  encode: ['M2.5 3.5h11M2.5 6.5h8M2.5 9.5h5M2.5 12.5h3'],
  pack: ['M2.5 5.5 8 2.5l5.5 3v5L8 13.5l-5.5-3zM2.5 5.5 8 8.500l5.5-3M8 8.500v5'],
  drive: ['M4.2 3.5h7.6l1.7 5.5v3.5h-11V9zM2.5 9h11M10.8 11h.01'],
  sound: ['M3 6.5v3M5.5 4.5v7M8 2.5v11M10.5 5.5v5M13 6.500v3'],
  search: ['M11 7a4 4 0 1 1-8 0 4 4 0 0 1 8 0z', 'm10 10 3.5 3.5'],
  down: ['m5 6.5 3 3 3-3'],
  right: ['m6.5 5 3 3-3 3'],
  undo: ['M5.5 3 2.5 6l3 3M2.5 6h7a4 4 0 0 1 0 8H7'],
  check: ['m3 8.5 3.2 3.2L13 4.8'],
  plus: ['M8 3.5v9M3.5 8h9'],
  cross: ['m4.5 4.5 7 7M11.5 4.5l-7 7'],
  folder: ['M2.5 4.5a1 1 0 0 1 1-1h3L8 5h4.5a1 1 0 0 1 1 1v5.5a1 1 0 0 1-1 1h-9a1 1 0 0 1-1-1z'],
  eye: [
    'M1.8 8C3.2 5.4 5.4 4 8 4s4.8 1.4 6.2 4c-1.4 2.6-3.6 4-6.200 4S3.200 10.600 1.800 8z',
    'M9.800 8a1.800 1.800 0 1 1-3.600 0 1.800 1.800 0 0 1 3.600 0z',
  ],
  copy: ['M5.500 5.500h8v8h-8z', 'M10.500 5.500v-3h-8v8h3'],
  table: ['M2.500 3.500h11v9h-11zM2.500 6.500h11M6 6.500v6'],
  trash: ['M3 4.500h10M6.500 4.500v-2h3v2M4.500 4.500l.6 9h5.800l.6-9'],
  moon: ['M12.800 9.800A5.500 5.500 0 1 1 6.200 3.200a4.500 4.500 0 0 0 6.600 6.600z'],
  keys: ['M2.500 4.500h11v7h-11zM5 7h.01M8 7h.01M11 7h.01M5.500 9.500h5'],
  again: ['M3 8a5 5 0 0 1 8.700-3.400L13 6M13 3v3h-3M13 8a5 5 0 0 1-8.700 3.400L3 10M3 13v-3h3'],
  list: ['M2.500 4h11M2.500 8h11M2.500 12h11'],
  lock: ['M4 7.500h8v6H4zM5.500 7.500V5.300a2.500 2.500 0 0 1 5 0v2.200'],
  unlock: ['M4 7.500h8v6H4zM5.500 7.500V5.300a2.500 2.500 0 0 1 4.700-1.200'],
  print: ['M4.500 6V2.500h7V6M4.500 11.500h-2V6h11v5.500h-2M4.500 9.500h7v4h-7z'],
  upload: ['M8 11V3M4.800 6 8 2.800 11.200 6M3 13.500h10'],
  machine: ['M2.500 3.500h11v7h-11zM6 13.500h4M8 10.500v3'],
  download: ['M8 3v8M4.800 8 8 11.200 11.200 8M3 13.500h10'],
} as const;
export type IconName = keyof typeof shapes;

export function Icon({ name, size = 16 }: { name: IconName; size?: number }) {
  return (
    <svg
      className="icon"
      viewBox="0 0 16 16"
      width={size}
      height={size}
      style={{ width: size, height: size }}
      aria-hidden="true"
    >
      {shapes[name].map((d) => (
        <path key={d} d={d} />
      ))}
    </svg>
  );
}
