const tones = [660, 880] as const;
const toneS = 0.09;

/** Two short, soft tones. Where the browser lets nothing sound, nothing does. */
export function shortSound(): void {
  if (typeof AudioContext === 'undefined') return;
  const context = new AudioContext();
  const level = context.createGain();
  level.gain.value = 0.08;
  level.connect(context.destination);
  tones.forEach((frequencyHz, i) => {
    const tone = context.createOscillator();
    tone.frequency.value = frequencyHz;
    tone.connect(level);
    tone.start(context.currentTime + i * toneS);
    tone.stop(context.currentTime + (i + 1) * toneS);
    if (i === tones.length - 1) tone.onended = () => void context.close();
  });
}
