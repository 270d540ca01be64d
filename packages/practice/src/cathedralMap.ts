/** Floor plan of "Tin Cathedral": corridors round a nave with columns; 0 is free, 1 plates, 2 ribs, 3 windows, 4 columns. */
export const planSide = 20;

export const plan: Uint8Array = drawPlan();

function drawPlan(): Uint8Array {
  const cells = new Uint8Array(planSide * planSide).fill(1);
  const free = (x0: number, y0: number, x1: number, y1: number): void => {
    for (let y = y0; y <= y1; y++) for (let x = x0; x <= x1; x++) cells[y * planSide + x] = 0;
  };
  const last = planSide - 2;
  free(1, 1, last, 1);
  free(1, last, last, last);
  free(1, 1, 1, last);
  free(last, 1, last, last);
  free(4, 4, 15, 15);
  for (const lane of [6, 10, 13]) {
    free(lane, 1, lane, last);
    free(1, lane, last, lane);
  }
  for (let y = 0; y < planSide; y++)
    for (let x = 0; x < planSide; x++) {
      const at = y * planSide + x;
      const inNave = x >= 4 && x <= 15 && y >= 4 && y <= 15;
      if (inNave && (x - 4) % 3 === 1 && (y - 4) % 3 === 1 && x !== 10 && y !== 10) cells[at] = 4;
      else if (cells[at] === 1 && (x * 7 + y * 3) % 5 === 0) cells[at] = 3;
      else if (cells[at] === 1 && (x + y) % 3 === 0) cells[at] = 2;
    }
  return cells;
}

/** Corners of the walk through the building, closed; every leg runs along a free lane. */
const corners: readonly (readonly [number, number])[] = [
  [1, 1],
  [10, 1],
  [10, 10],
  [18, 10],
  [18, 18],
  [10, 18],
  [10, 13],
  [6, 13],
  [6, 10],
  [1, 10],
];

const turnS = 0.45;
const cellsPerS = 2.2;

interface Leg {
  fromS: number;
  walkS: number;
  x: number;
  y: number;
  dx: number;
  dy: number;
  angle: number;
  /** How far the turn at its end goes, radians. */
  turn: number;
}

const legs: Leg[] = walk();
const lapS = legs.reduce((sum, leg) => sum + leg.walkS + turnS, 0);

function walk(): Leg[] {
  const list = corners.map(([x, y], i): Leg => {
    const [nx, ny] = corners[(i + 1) % corners.length] ?? [x, y];
    const length = Math.abs(nx - x) + Math.abs(ny - y);
    const [dx, dy] = [Math.sign(nx - x), Math.sign(ny - y)];
    return { fromS: 0, walkS: length / cellsPerS, x: x + 0.5, y: y + 0.5, dx, dy, angle: Math.atan2(dy, dx), turn: 0 };
  });
  let at = 0;
  list.forEach((leg, i) => {
    leg.fromS = at;
    at += leg.walkS + turnS;
    const next = list[(i + 1) % list.length] ?? leg;
    const turn = next.angle - leg.angle;
    leg.turn = Math.atan2(Math.sin(turn), Math.cos(turn));
  });
  return list;
}

/** Where the walker stands after so many seconds of walking, and where it looks; corners are turned quickly. */
export function walkerAt(seconds: number): { x: number; y: number; angle: number; walking: number } {
  const into = ((seconds % lapS) + lapS) % lapS;
  const leg = legs.findLast((l) => l.fromS <= into) ?? legs[0]!;
  const time = into - leg.fromS;
  const walked = Math.min(time, leg.walkS) * cellsPerS;
  const turned = Math.max(0, Math.min(1, (time - leg.walkS) / turnS));
  return {
    x: leg.x + leg.dx * walked,
    y: leg.y + leg.dy * walked,
    angle: leg.angle + leg.turn * turned * turned * (3 - 2 * turned),
    walking: turned > 0 ? 0 : 1,
  };
}
