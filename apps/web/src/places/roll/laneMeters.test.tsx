import { configureStore } from '@reduxjs/toolkit';
import { fireEvent, render, screen } from '@testing-library/react';
import { Provider } from 'react-redux';
import type { LiveTake, Recipe, SoundLevel } from '@mellow/model';
import { api } from '../../store/api';
import { testRecipe } from '../path/pathTest.test-support';
import { LaneMeters } from './LaneMeters';
import { testLiveTake } from './liveTake.test-support';

/** What the page asks of the recorder while a take rolls, caught on its way. */
const asked: { url: string; body: unknown }[] = [];
beforeEach(() => {
  asked.length = 0;
  globalThis.fetch = jest.fn(async (request: Request) => {
    asked.push({ url: new URL(request.url).pathname, body: JSON.parse(await request.text()) as unknown });
    return new Response(null, { status: 204 });
  }) as never;
});

const level = (id: SoundLevel['id'], change: Partial<SoundLevel> = {}): SoundLevel => ({
  id,
  state: 'alive',
  peakDbfs: -12,
  rmsDbfs: null,
  loudnessLufs: null,
  why: null,
  ...change,
});
const live = (change: Partial<LiveTake> = {}): LiveTake => ({
  ...testLiveTake,
  lanePeakDbfs: [-9, -12, -20],
  laneLufs: [-19.8, null, -25.6],
  sounds: [level('game', { peakDbfs: -26 }), level('voice'), level('chat', { peakDbfs: null })],
  ...change,
});

function show(take: LiveTake, recipe: Recipe = testRecipe): void {
  const store = configureStore({
    reducer: { [api.reducerPath]: api.reducer },
    middleware: (standard) => standard().concat(api.middleware),
  });
  render(
    <Provider store={store}>
      <LaneMeters take={take} recipe={recipe} />
    </Provider>,
  );
}
const heldVoice: Recipe = {
  ...testRecipe,
  sounds: testRecipe.sounds.map((sound) => (sound.id === 'voice' ? { ...sound, opening: 'held' } : sound)),
};

describe('lanes while a take rolls', () => {
  it('stand with their sounds by name, their level against their zone, and their loudness', () => {
    show(live());
    expect(screen.getByRole('img', { name: 'Lane 1, Everything: peak -9.0 dBFS' })).toBeInTheDocument();
    expect(screen.getByText('Game, Voice and Chat')).toBeInTheDocument();
    expect(screen.getByText(/in its zone, −19.8 LUFS/)).toBeInTheDocument();
    expect(screen.getByText(/4.0 dB above, −25.6 LUFS/)).toBeInTheDocument();
    expect(screen.getByText(/The voice is 14.0 dB above the game/)).toBeInTheDocument();
  });
  it('say a loudness that is known before any level is, and nothing before that', () => {
    show(live({ lanePeakDbfs: [null, null, null], sounds: [] }));
    expect(screen.getByText('−19.8 LUFS')).toBeInTheDocument();
    expect(screen.queryByText(/^,/)).toBeNull();
  });
  it('tell what is not heard, and that nothing has to be done', () => {
    show(
      live({ sounds: [level('game'), level('voice', { state: 'away', peakDbfs: null, why: 'gone' }), level('chat')] }),
    );
    expect(screen.getByRole('alert')).toHaveTextContent(
      'Voice is not heard. Its lanes go on in silence until it is back.',
    );
  });
  it('say nothing of a sound that is muted, or kept on no lane', () => {
    const muted = testRecipe.sounds.map((sound) => (sound.id === 'voice' ? { ...sound, muted: true } : sound));
    show(live({ sounds: [level('game'), level('voice', { state: 'away' })] }), { ...testRecipe, sounds: muted });
    expect(screen.queryByRole('alert')).toBeNull();
  });
  it('are silent where nothing sounds, and unknown before the first second', () => {
    show(live({ lanePeakDbfs: [null], laneLufs: [], sounds: [] }));
    expect(screen.getByText('silent')).toBeInTheDocument();
    expect(screen.getByRole('img', { name: 'Lane 2, Voice: silent' })).toBeInTheDocument();
    expect(screen.queryByText(/The voice is/)).toBeNull();
  });
  it('say that a file without lanes is silent', () => {
    show(live({ lanePeakDbfs: [] }), { ...testRecipe, lanes: [] });
    expect(screen.getByText('No lane: the file will be silent.')).toBeInTheDocument();
  });
});

describe('a microphone that is open while held', () => {
  it('is not offered where none is', () => {
    show(live());
    expect(screen.queryByRole('button', { name: /open while held/ })).toBeNull();
  });
  it('opens with its key and closes with it, once for as long as it is held', async () => {
    show(live(), heldVoice);
    fireEvent.keyDown(document, { key: 'v' });
    fireEvent.keyDown(document, { key: 'v', repeat: true });
    expect(await screen.findByText(/Voice: open/)).toBeInTheDocument();
    fireEvent.keyUp(document, { key: 'v' });
    expect(await screen.findByText(/Voice: hold to talk/)).toBeInTheDocument();
    expect(asked).toEqual([
      { url: '/api/recorder/hold', body: { sound: 'voice', open: true } },
      { url: '/api/recorder/hold', body: { sound: 'voice', open: false } },
    ]);
  });
  it('opens while its button is pressed, and closes when the pointer leaves it', async () => {
    show(live(), heldVoice);
    const button = screen.getByRole('button', { name: 'Voice, open while held' });
    fireEvent.pointerDown(button);
    expect(await screen.findByText(/Voice: open/)).toBeInTheDocument();
    fireEvent.pointerUp(button);
    expect(await screen.findByText(/hold to talk/)).toBeInTheDocument();
    expect(asked.map(({ body }) => (body as { open: boolean }).open)).toEqual([true, false]);
  });
  it('closes when the page loses the keyboard, so that it never stays open unseen', async () => {
    show(live(), heldVoice);
    fireEvent.keyDown(document, { key: 'v' });
    fireEvent.blur(window);
    expect(await screen.findByText(/hold to talk/)).toBeInTheDocument();
    expect((asked.at(-1)?.body as { open: boolean }).open).toBe(false);
  });
  it('hears no key before the take rolls, with Ctrl, or while somebody types', () => {
    show(live({ state: 'baseline' }), heldVoice);
    fireEvent.keyDown(document, { key: 'v' });
    expect(screen.getByRole('button', { name: 'Voice, open while held' })).toBeDisabled();
    expect(asked).toEqual([]);
  });
});
