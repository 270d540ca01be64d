import { z } from 'zod';

/** Over the game, beside it in a picture twice as wide, or in a file of its own. */
export const cameraWheres = ['over', 'beside', 'own-file'] as const;
export type CameraWhere = (typeof cameraWheres)[number];

/** A camera of this PC by the address under which the system opens it, or a drawn figure in its place. */
export const cameraFromSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('stand-in') }),
  z.object({ kind: z.literal('device'), device: z.string().min(1).max(400), name: z.string().min(1).max(200) }),
]);
export type CameraFrom = z.infer<typeof cameraFromSchema>;

const share = z.number().min(0).max(1);

export const cameraSchema = z.object({
  from: cameraFromSchema,
  where: z.enum(cameraWheres).default('over'),
  /** What the camera is asked for; what it brings is scaled to this. */
  widthPx: z.int().min(160).max(1920).multipleOf(2).default(640),
  heightPx: z.int().min(90).max(1080).multipleOf(2).default(360),
  fps: z.int().min(5).max(60).default(30),
  /** Over the game: where its upper left corner lies, and how wide it is, as shares of the picture. */
  leftShare: share.default(0.72),
  topShare: share.default(0.7),
  widthShare: z.number().min(0.05).max(1).default(0.25),
  /** 1 hides what is behind it. */
  opacity: z.number().min(0.1).max(1).default(1),
});
export type Camera = z.infer<typeof cameraSchema>;

/** How a camera is opened by the library's own devices. */
export const cameraInputSchema = z.object({
  format: z.enum(['v4l2', 'dshow', 'avfoundation', 'lavfi']),
  address: z.string(),
  options: z.record(z.string(), z.string()),
});
export type CameraInput = z.infer<typeof cameraInputSchema>;

/** Cameras of this PC. */
export const cameraDevicesSchema = z.object({
  /** Why there are none, in words; null where there are some. */
  trouble: z.string().nullable(),
  cameras: z.array(z.object({ device: z.string(), name: z.string() })),
});
export type CameraDevices = z.infer<typeof cameraDevicesSchema>;

/** What became of a take's camera. */
export const cameraReportSchema = z.object({
  name: z.string(),
  where: z.enum(cameraWheres),
  standIn: z.boolean(),
  /** Pictures it brought while the take rolled. */
  pictures: z.int(),
  /** How often it was away, and for how long together. */
  away: z.int(),
  awayS: z.number(),
});
export type CameraReport = z.infer<typeof cameraReportSchema>;
