import { z } from 'zod';

/** The stations of the frame path in the order a picture travels; sound joins at Pack. */
export const stationNames = ['game', 'capture', 'size', 'encode', 'pack', 'drive'] as const;
export const stationSchema = z.enum(stationNames);
export type Station = z.infer<typeof stationSchema>;
export const pathPlaces = [...stationNames, 'sound'] as const;
export type PathPlaceName = (typeof pathPlaces)[number];
