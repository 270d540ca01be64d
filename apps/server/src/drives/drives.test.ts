import { join } from 'node:path';
import * as fc from 'fast-check';
import { safeName } from '@mellow/core';
import { isInside } from './drives';

describe('names of files', () => {
  it('never lead out of their folder, whatever a setup is called', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary', maxLength: 120 }), (name) => {
        const safe = safeName(name);
        expect(safe).not.toMatch(/[/\\\0:*?"<>|]/);
        expect(safe.length).toBeGreaterThan(0);
        expect(isInside('/srv/takes', join('/srv/takes', safe, 'x.mkv'))).toBe(true);
      }),
    );
  });
  it('keep what people write', () => {
    expect(safeName('Comets long play')).toBe('Comets long play');
    expect(safeName('../../etc')).toBe('etc');
    expect(safeName('...')).toBe('take');
  });
  it('inside means below, not beside or the same', () => {
    expect(isInside('/srv/takes', '/srv/takes/a/b.mkv')).toBe(true);
    expect(isInside('/srv/takes', '/srv/takes')).toBe(false);
    expect(isInside('/srv/takes', '/srv/takes-other/b')).toBe(false);
    expect(isInside('/srv/takes', '/srv/takes/../x')).toBe(false);
  });
});
