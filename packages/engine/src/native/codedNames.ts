/** Names of the numbers that streams carry. */

/** AVC profiles by profile_idc, with constraint set 1 as +512 (ITU-T H.264, Annex A). */
export function avcProfileName(profile: number): string {
  const names: Record<number, string> = {
    66: 'Baseline',
    578: 'Constrained Baseline',
    77: 'Main',
    88: 'Extended',
    100: 'High',
    110: 'High 10',
    122: 'High 4:2:2',
    244: 'High 4:4:4',
  };
  return names[profile] ?? `profile ${profile}`;
}

/** Profiles by codec: HEVC general_profile_idc (ITU-T H.265, Annex A), AV1 seq_profile; other codecs have none that matters here. */
export function pictureProfileName(codec: string, profile: number): string {
  if (codec === 'h264') return avcProfileName(profile);
  if (codec === 'hevc') return { 1: 'Main', 2: 'Main 10', 4: 'Range extensions' }[profile] ?? `profile ${profile}`;
  if (codec === 'av1') return { 0: 'Main', 1: 'High', 2: 'Professional' }[profile] ?? `profile ${profile}`;
  return '';
}

/** Colour primaries, transfer and matrix share these numbers here (ITU-T H.273). */
export function colourName(code: number): string {
  const names: Record<number, string> = {
    0: 'rgb',
    1: 'bt709',
    2: 'unspecified',
    5: 'bt470bg',
    6: 'smpte170m',
    9: 'bt2020',
  };
  return names[code] ?? `code ${code}`;
}

/** 1 = limited, 2 = full range. */
export function rangeName(code: number): string {
  return code === 1 ? 'tv' : code === 2 ? 'pc' : 'unknown';
}

/** A matrix as the filter library names it; those that are not known, or not told, are taken for Rec. 709. */
export function filterMatrixName(code: number): string {
  const names: Record<number, string> = { 0: 'gbr', 5: 'bt470bg', 6: 'smpte170m', 7: 'smpte240m', 9: 'bt2020nc' };
  return names[code] ?? 'bt709';
}
