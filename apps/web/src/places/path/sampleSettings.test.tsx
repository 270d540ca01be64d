import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { SampleSource, Take } from '@mellow/model';
import { showPath, testPath, testSetup } from './pathTest.test-support';
import { SampleSettings } from './SampleSettings';

const sample: SampleSource = {
  kind: 'sample',
  ...{ path: '/footage/vale.mkv', name: 'Harrow Vale, sample 3', widthPx: 1280, heightPx: 720 },
  ...{ pixels: 'yuv420p', rate: { num: 60, den: 1 }, frames: 600, lengthUs: 10e6 },
};
const taken = {
  ...{ id: 'three', kind: 'sample', number: 3, filePath: sample.path },
  ...{ game: testSetup.game, recipe: testSetup.draft },
} as unknown as Take;

function answering(): { path: string; body: unknown }[] {
  const asked: { path: string; body: unknown }[] = [];
  jest.spyOn(globalThis, 'fetch').mockImplementation(async (input) => {
    const call = input as Request;
    asked.push({ path: new URL(call.url).pathname, body: await call.clone().json() });
    return new Response(JSON.stringify(testSetup), { headers: { 'Content-Type': 'application/json' } });
  });
  return asked;
}
const stop = (name: string) => within(screen.getByRole('radiogroup', { name: 'What trials play' })).getByText(name);
afterEach(() => jest.restoreAllMocks());

describe('what trials play', () => {
  it('is the source itself until there is a sample, which one button makes', async () => {
    const asked = answering();
    showPath(testPath(), <SampleSettings />);
    expect(screen.getByRole('radio', { name: /^a sample/ })).toBeDisabled();
    await userEvent.click(screen.getByRole('button', { name: 'Make a sample of 10 s' }));
    await waitFor(() => expect(asked).toHaveLength(1));
    expect(asked[0]).toEqual({
      path: `/api/setups/${testSetup.id}/trials`,
      body: { lengthS: 10, kind: 'sample' },
    });
  });

  it('takes the newest sample, a file by its path, and goes back to the source', async () => {
    const asked = answering();
    const { unmount } = showPath(testPath({}, { samples: [taken] }), <SampleSettings />);
    await userEvent.click(stop('a sample'));
    await userEvent.click(screen.getByRole('button', { name: 'Bring a file in' }));
    await userEvent.type(screen.getByLabelText('Path of a media file on this PC'), '/films/one.mp4{Enter}');
    unmount();
    showPath(testPath({ sample }, { samples: [taken] }), <SampleSettings />);
    expect(screen.getByText(/600 pictures of 1280×720 at 60 fps, 10.00 s/)).toBeVisible();
    await userEvent.click(stop('the source itself'));
    await waitFor(() => expect(asked).toHaveLength(3));
    expect(asked.map(({ body }) => body)).toEqual([
      { from: 'take', takeId: 'three' },
      { from: 'file', path: '/films/one.mp4' },
      { from: 'live' },
    ]);
  });

  it('is the practice game alone on a simulated machine', () => {
    showPath(testPath({ machineId: 'kestrel' }, { samples: [taken] }), <SampleSettings />);
    expect(screen.getByRole('radio', { name: /^a sample/ })).toBeDisabled();
    expect(screen.getByRole('button', { name: 'Make a sample of 10 s' })).toBeDisabled();
  });
});
