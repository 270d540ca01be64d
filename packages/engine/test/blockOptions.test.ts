import { execFileSync } from 'node:child_process';
import { join } from 'node:path';
import { plainPracticeGame, startRecipe, withEncoder } from '@mellow/core';
import { efforts } from '@mellow/model';
import { z } from 'zod';
import { encoderOptions } from '../src/encode/encoderOptions';

/**
 * Every option that a recipe would send against the media libraries' own tables (av_opt_set refuses a name that is not there, and a
 * value outside its range). Blocks are in the libraries wherever they were built with them, card or none.
 */
const reportSchema = z.object({
  looked: z.array(
    z.object({ native: z.string(), recipes: z.number(), refused: z.array(z.string()), said: z.array(z.string()) }),
  ),
  beyondScale: z.string().nullable(),
});
const script = join(__dirname, 'support/optionRefusals.ts');
const report = reportSchema.parse(
  JSON.parse(
    execFileSync(process.execPath, ['--import', 'tsx', script], { stdio: ['ignore', 'pipe', 'ignore'] }).toString(),
  ),
);
const start = startRecipe({ purpose: 'long-play', sessionMinutes: 30 }, plainPracticeGame, 'd');

describe('options of every encoder that the libraries know', () => {
  it('among them blocks of three makers', () =>
    expect(report.looked.map(({ native }) => native)).toEqual(
      expect.arrayContaining(['h264_nvenc', 'hevc_nvenc', 'av1_nvenc', 'h264_qsv', 'hevc_qsv', 'h264_amf', 'av1_amf']),
    ));
  it.each(report.looked)(
    '$native takes every effort, rate control, profile and end of the scale',
    ({ recipes, refused }) => {
      expect(recipes).toBeGreaterThanOrEqual(3);
      expect(refused).toEqual([]);
    },
  );
  it('only a block that another maker’s card may stand for cannot be told all that cards can', () => {
    const said = report.looked.filter((one) => one.said.length).map(({ native }) => native);
    expect(said.every((native) => /_(amf|videotoolbox|vaapi)$/.test(native))).toBe(true);
    for (const { said: words } of report.looked)
      for (const word of words) expect(word).toContain('leave that to the encoder');
  });
  it('a value beyond its scale would be found', () => expect(report.beyondScale).toContain('qp'));
  it('AV1’s quantiser goes to the end of its own scale', () => {
    const recipe = withEncoder(start, 'av1-card');
    const encode = { ...recipe.encode, rateControl: 'constant-quantiser' as const, quality: 63 };
    expect(encoderOptions({ ...recipe, encode }, 'av1_nvenc')['qp']).toBe('255');
    expect(encoderOptions({ ...recipe, encode }, 'av1_amf')['qp_p']).toBe('255');
  });
  it('a block’s effort moves with the recipe’s, and AVC has the profile that the recipe names', () => {
    for (const native of ['h264_nvenc', 'hevc_qsv', 'h264_amf']) {
      const said = efforts.map((effort) =>
        JSON.stringify(encoderOptions({ ...start, encode: { ...start.encode, effort } }, native)),
      );
      expect(new Set(said).size).toBeGreaterThanOrEqual(3);
    }
    for (const native of ['h264_nvenc', 'h264_qsv', 'h264_amf', 'h264_videotoolbox'])
      expect(encoderOptions(start, native)['profile']).toBe('high');
  });
});
