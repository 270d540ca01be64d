import { cardMachineWords, formatSize, purposeWords } from '@mellow/core';
import type { RecipeCard } from '@mellow/model';
import { figureFont, oat, wordFont } from '../../theme/tokens';

const width = 1200;
const margin = 56;
const rowHeight = 30;

/** The card drawn as a picture of 1200 pixels width, in the light scheme, so that it can be shown anywhere. */
export async function cardPicture(card: RecipeCard): Promise<Blob> {
  await document.fonts.ready;
  const canvas = document.createElement('canvas');
  const rows = Math.max(card.reasons.length, card.forecast.length * 2);
  canvas.width = width;
  canvas.height = 190 + rows * rowHeight + margin;
  const context = canvas.getContext('2d');
  if (!context)
    throw new Error('This browser gives no drawing surface, so no picture was made. Markdown and JSON still work.');
  context.fillStyle = oat.page;
  context.fillRect(0, 0, width, canvas.height);
  const write = (text: string, x: number, y: number, font: string, colour: string, most: number): void => {
    context.font = font;
    context.fillStyle = colour;
    let shown = text;
    while (context.measureText(shown).width > most && shown.length > 1) shown = `${shown.slice(0, -2)}…`;
    context.fillText(shown, x, y);
  };
  const words = (px: number, weight = 400): string => `${weight} ${px}px ${wordFont}`;
  write(card.name, margin, 84, words(40, 500), oat.ink, 760);
  write(
    `${purposeWords[card.brief.purpose].name} of ${card.game.title}, played at ${formatSize(card.game.widthPx, card.game.heightPx)}`,
    margin,
    118,
    words(18),
    oat.soft,
    760,
  );
  write(cardMachineWords(card.machine), 840, 84, words(18, 600), oat.ink, width - margin - 840);
  write(card.madeAt.slice(0, 10), 840, 112, `400 16px ${figureFont}`, oat.soft, 300);
  context.fillStyle = oat.line;
  context.fillRect(margin, 140, width - 2 * margin, 1);
  card.reasons.forEach((reason, i) => {
    const y = 176 + i * rowHeight;
    write(reason.setting, margin, y, words(16), oat.soft, 200);
    write(reason.value, margin + 210, y, words(16, 600), oat.ink, 500);
  });
  card.forecast.forEach((figure, i) => {
    const y = 176 + i * 2 * rowHeight;
    write(figure.name, 840, y, words(16), oat.soft, width - margin - 840);
    write(figure.value, 840, y + 24, words(16, 600), oat.ink, width - margin - 840);
  });
  return new Promise((resolve, reject) =>
    canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error('The picture could not be made.'))), 'image/png'),
  );
}
