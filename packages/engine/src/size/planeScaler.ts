import type { ScalingFilter } from '@mellow/model';
import {
  AV_PIX_FMT_BGR0,
  AV_PIX_FMT_BGR24,
  AV_PIX_FMT_GBRP,
  AV_PIX_FMT_NV12,
  AV_PIX_FMT_P010LE,
  AV_PIX_FMT_YUV420P,
  AV_PIX_FMT_YUV420P10LE,
  AV_PIX_FMT_YUV444P,
  AV_PIX_FMT_YUV444P10LE,
  SWS_ACCURATE_RND,
  SWS_AREA,
  SWS_BICUBIC,
  SWS_BILINEAR,
  SWS_FULL_CHR_H_INP,
  SWS_FULL_CHR_H_INT,
  SWS_LANCZOS,
  SWS_POINT,
  SWS_SPLINE,
  type AVPixelFormat,
  type SwsFlags,
} from 'node-av/constants';
import { FFmpegError, SoftwareScaleContext } from 'node-av/lib';
import type { LayoutName, PixelLayout } from '../native/pixelLayout';
import { startOf, type Part } from './sizedParts';

/** The scaling library's flags and names for our filters. */
export const scalingMethods: Record<ScalingFilter, { flag: SwsFlags; name: string }> = {
  nearest: { flag: SWS_POINT, name: 'neighbor' },
  bilinear: { flag: SWS_BILINEAR, name: 'bilinear' },
  bicubic: { flag: SWS_BICUBIC, name: 'bicubic' },
  area: { flag: SWS_AREA, name: 'area' },
  lanczos: { flag: SWS_LANCZOS, name: 'lanczos' },
  spline: { flag: SWS_SPLINE, name: 'spline' },
};

/** Here samples keep their matrix and range, whatever they are: full range is not told from limited. */
const formats: Record<LayoutName, AVPixelFormat> = {
  yuv420p: AV_PIX_FMT_YUV420P,
  yuvj420p: AV_PIX_FMT_YUV420P,
  yuv420p10le: AV_PIX_FMT_YUV420P10LE,
  p010le: AV_PIX_FMT_P010LE,
  nv12: AV_PIX_FMT_NV12,
  yuv444p: AV_PIX_FMT_YUV444P,
  yuv444p10le: AV_PIX_FMT_YUV444P10LE,
  gbrp: AV_PIX_FMT_GBRP,
  bgr24: AV_PIX_FMT_BGR24,
  bgr0: AV_PIX_FMT_BGR0,
};

/** Scales a part of a picture in shared memory into a part of another there; matrix and range stay. */
export interface PlaneScaler {
  run(source: readonly Buffer[], target: readonly Buffer[]): void;
  free(): void;
}

export interface PictureLayoutPart {
  layout: PixelLayout;
  part: Part;
}

export function openPlaneScaler(from: PictureLayoutPart, to: PictureLayoutPart, filter: ScalingFilter): PlaneScaler {
  const scaler = new SoftwareScaleContext();
  const settings = {
    srcw: from.part.widthPx,
    srch: from.part.heightPx,
    src_format: formats[from.layout.name],
    dstw: to.part.widthPx,
    dsth: to.part.heightPx,
    dst_format: formats[to.layout.name],
    sws_flags: scalingMethods[filter].flag | SWS_ACCURATE_RND | SWS_FULL_CHR_H_INT | SWS_FULL_CHR_H_INP,
    // Differences lie on the left one of two pixels, as files are tagged (ITU-T H.273, ChromaLocType 0), in 256ths of a
    // pixel from there; JPEG's between the two.
    src_h_chr_pos: 0,
    dst_h_chr_pos: to.layout.name === 'yuvj420p' ? 128 : 0,
  };
  scaler.allocContext();
  for (const [name, value] of Object.entries(settings))
    FFmpegError.throwIfError(scaler.setOption(name, value), `scaling: ${name}`);
  FFmpegError.throwIfError(scaler.initContext(), 'scaling');
  const sourceStrides = from.layout.planes.map((plane) => plane.strideBytes);
  const targetStrides = to.layout.planes.map((plane) => plane.strideBytes);
  const partOf = ({ layout, part }: PictureLayoutPart, planes: readonly Buffer[]): Buffer[] =>
    layout.planes.map((plane, i) => {
      const bytes = planes[i];
      if (!bytes) throw new RangeError('a picture has no such plane');
      return bytes.subarray(startOf(plane, part));
    });
  return {
    run(source, target) {
      const code = scaler.scaleSync(
        partOf(from, source),
        sourceStrides,
        0,
        from.part.heightPx,
        partOf(to, target),
        targetStrides,
      );
      FFmpegError.throwIfError(code, 'scaling');
    },
    free: () => scaler.freeContext(),
  };
}
