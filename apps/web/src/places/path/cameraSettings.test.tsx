import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { cameraSchema, type Camera, type CameraDevices } from '@mellow/model';
import { CameraSettings } from './CameraSettings';
import { showPath, testPath, testRecipe } from './pathTest.test-support';

const standIn = (part: Partial<Camera> = {}): Camera => cameraSchema.parse({ from: { kind: 'stand-in' }, ...part });
const desk = { device: '/dev/video2', name: 'Desk camera' };
const withCamera = (camera: Camera | null) => testPath({ draft: { ...testRecipe, camera } });

/** What the server says of cameras. */
function found(devices: CameraDevices): jest.SpyInstance {
  return jest
    .spyOn(globalThis, 'fetch')
    .mockImplementation(
      async () => new Response(JSON.stringify(devices), { headers: { 'Content-Type': 'application/json' } }),
    );
}
const none: CameraDevices = { trouble: 'No camera was found.', cameras: [] };
afterEach(() => jest.restoreAllMocks());

describe('a camera on Path', () => {
  it('is none until it is laid somewhere, and begins in the lower right', async () => {
    found(none);
    const path = withCamera(null);
    showPath(path, <CameraSettings />);
    expect(screen.queryByText(/asked for/)).not.toBeInTheDocument();
    await userEvent.click(screen.getByRole('radio', { name: 'over the game' }));
    const camera = path.applied.at(-1)?.camera;
    expect(camera).toMatchObject({ where: 'over', from: { kind: 'stand-in' }, widthShare: 0.25 });
    expect((camera?.leftShare ?? 0) + 0.25).toBeCloseTo(0.98, 6);
    // Encode is left as it is: what a wide picture asks for is a rule's offer.
    expect(path.applied.at(-1)?.encode).toEqual(testRecipe.encode);
    await userEvent.click(screen.getByRole('radio', { name: 'beside the game' }));
    expect(path.applied.at(-1)?.camera?.where).toBe('beside');
    expect(path.applied.at(-1)?.encode).toEqual(testRecipe.encode);
  });

  it('is placed by corner and by figures, with its plan beside', async () => {
    found(none);
    const path = withCamera(standIn({ leftShare: 0.4, topShare: 0.4 }));
    showPath(path, <CameraSettings />);
    expect(screen.getByRole('img', { name: /1280 by 720: stand-in camera over the game/ })).toBeVisible();
    for (const [corner, left, top] of [
      ['upper left', 0.02, 0.03],
      ['lower left', 0.02, 0.72],
      ['upper right', 0.73, 0.03],
    ] as const) {
      await userEvent.click(screen.getByRole('radio', { name: corner }));
      expect(path.applied.at(-1)?.camera?.leftShare).toBeCloseTo(left, 6);
      expect(path.applied.at(-1)?.camera?.topShare).toBeCloseTo(top, 6);
    }
    const opacity = screen.getByRole('textbox', { name: 'Opacity' });
    await userEvent.clear(opacity);
    await userEvent.type(opacity, '60{Enter}');
    expect(path.applied.at(-1)?.camera?.opacity).toBe(0.6);
    await userEvent.clear(opacity);
    await userEvent.type(opacity, '5{Enter}');
    expect(screen.getByRole('alert')).toHaveTextContent('5 is not between 10 and 100');
  });

  it('has no place where it lies beside the game or in a file of its own', () => {
    found(none);
    const beside = showPath(withCamera(standIn({ where: 'beside' })), <CameraSettings />);
    expect(screen.queryByRole('radiogroup', { name: 'Corner' })).not.toBeInTheDocument();
    expect(screen.getByRole('img', { name: /2560 by 720/ })).toBeVisible();
    beside.unmount();
    showPath(withCamera(standIn({ where: 'own-file' })), <CameraSettings />);
    expect(screen.queryByRole('img')).not.toBeInTheDocument();
    expect(screen.getByText(/begins with it/)).toBeVisible();
  });

  it('is chosen among those of this PC, and the stand-in says what it is', async () => {
    found({ trouble: null, cameras: [desk] });
    const path = withCamera(standIn());
    showPath(path, <CameraSettings />);
    await waitFor(() => expect(globalThis.fetch).toHaveBeenCalled());
    await userEvent.click(screen.getByRole('button', { name: /Which camera/ }));
    await userEvent.click(await within(await screen.findByRole('menu')).findByText('Desk camera'));
    expect(path.applied.at(-1)?.camera?.from).toEqual({ kind: 'device', ...desk });
  });

  it('that is not there now is said, and stays chosen', async () => {
    found(none);
    showPath(withCamera(standIn({ from: { kind: 'device', ...desk } })), <CameraSettings />);
    expect(await screen.findByText('No camera was found.')).toBeVisible();
    expect(screen.getByRole('button', { name: /Which camera/ })).toHaveTextContent('Desk camera');
  });

  it('is asked for in what cameras commonly offer', async () => {
    found(none);
    const path = withCamera(standIn());
    showPath(path, <CameraSettings />);
    await userEvent.click(screen.getByRole('button', { name: /Picture of the camera/ }));
    await userEvent.click(within(await screen.findByRole('menu')).getByText('1280×720 at 60 fps'));
    expect(path.applied.at(-1)?.camera).toMatchObject({ widthPx: 1280, heightPx: 720, fps: 60 });
  });
});
