import { machineSheetSchema, type Setup } from '@mellow/model';
import { goodRecipe, testContext } from '../forecast/testContext.test-support';
import { standInFacts } from '../storage';
import { demoMachines, encoderSpeeds, kestrel, machineSheetText, readinessOf, unprovenSheet, wren } from './index';

describe('machines', () => {
  it('of the demo fit the schema, are simulated, and have no figure that is called measured', () => {
    for (const machine of demoMachines) {
      expect(machineSheetSchema.parse(machine)).toEqual(machine);
      expect(machine.origin).toBe('simulated');
      expect(JSON.stringify(machine)).not.toContain('"measured"');
    }
  });
  it('say in one sentence what they keep, and the weak one less', () => {
    expect(readinessOf(kestrel)).toMatchObject({ ready: true, recommended: { encoder: 'avc-card' } });
    expect(readinessOf(kestrel).sentence).toMatch(/^Kestrel keeps \d+ lines at \d+ fps in AVC on its own block\.$/);
    expect(readinessOf(wren).sentence).toMatch(
      /^Wren keeps \d+ lines at \d+ fps in AVC in software, with half of its cores left to the game\.$/,
    );
    const pixelRate = (sentence: string) => {
      const [lines, fps] = [...sentence.matchAll(/\d+/g)].map(Number);
      return (lines ?? 0) ** 2 * (fps ?? 0);
    };
    expect(pixelRate(readinessOf(wren).sentence)).toBeLessThan(pixelRate(readinessOf(kestrel).sentence));
    expect(readinessOf(wren).recommended?.encoder).toBe('avc-software');
  });
  it('are not judged before anything was tried, and not ready where nothing works', () => {
    const { name, cores, processor, memoryBytes, system } = kestrel;
    const unproven = unprovenSheet({ name, cores, processor, memoryBytes, system, origin: 'measured' }, 'this');
    expect(readinessOf(unproven).sentence).toMatch(/has not been measured/);
    expect(
      readinessOf({
        ...unproven,
        encoders: [{ encoder: 'avc-software', works: false, reason: 'x', workUsPerMegapixel: null, byEffort: {} }],
      }).ready,
    ).toBe(false);
  });
  it('encode slower with more effort, and a block without the cores', () => {
    const fps = encoderSpeeds(kestrel, 'avc-software').map((s) => s.fps);
    expect(fps).toHaveLength(5);
    expect(fps).toEqual([...fps].sort((a, b) => b - a));
    // 1500 us a megapixel at the lightest effort: 1 / (0.0015 x 2.0736^0.95) = 333 fps of 1080 lines.
    expect(encoderSpeeds(kestrel, 'avc-card')[0]?.fps).toBeCloseTo(1e6 / (1500 * 2.0736 ** 0.95), 3);
    expect(encoderSpeeds(kestrel, 'ffv1-software')).toHaveLength(1);
  });
  it('are described in a sheet whose names are no marks of Markdown or HTML', () => {
    const machine = { ...kestrel, name: '<svg onload=X>' };
    const text = machineSheetText(machine, [], []);
    expect(text.split('\n')[0]).toContain('# \\<svg onload=X\\>');
  });
  it('are described in a sheet without the names of folders', () => {
    const context = testContext();
    const recipe = goodRecipe(context.game, context.brief);
    const setup = {
      id: 's',
      name: 'Comets',
      game: context.game,
      brief: context.brief,
      draft: recipe,
      start: recipe,
    } as Setup;
    const text = machineSheetText(
      kestrel,
      kestrel.drives.map((d) => ({ ...standInFacts(d), folder: '/home/somebody/footage' })),
      [setup],
    );
    expect(text).toMatch(/^# Kestrel \(simulated\)/);
    expect(text).toContain('### Comets: 1920×1080 at 60 fps, quality 20');
    expect(text).toContain('- Barn: hard disk, 600 GB free, writes 70.0 MB/s');
    expect(text).not.toContain('somebody');
  });
});
