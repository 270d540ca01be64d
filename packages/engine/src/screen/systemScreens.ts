import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import type { DisplayFacts, Screens, WindowFacts } from '@mellow/model';
import { z } from 'zod';

/** How Windows and macOS are asked for displays and windows, and what their answers mean; written from documentation, not tried. */

const run = promisify(execFile);
const patienceMs = 8000;

/** Displays by .NET's Screen class, windows by their processes' main windows, sizes by GetWindowRect; told as JSON. */
export const windowsScript = `
Add-Type -AssemblyName System.Windows.Forms
Add-Type 'using System; using System.Runtime.InteropServices; public struct R { public int L, T, Rt, B; } public static class W { [DllImport("user32.dll")] public static extern bool GetWindowRect(IntPtr h, out R r); }'
$d = [System.Windows.Forms.Screen]::AllScreens | ForEach-Object { @{ name = $_.DeviceName; x = $_.Bounds.X; y = $_.Bounds.Y; w = $_.Bounds.Width; h = $_.Bounds.Height; primary = $_.Primary } }
$w = Get-Process | Where-Object { $_.MainWindowTitle } | ForEach-Object { $r = New-Object R; if ([W]::GetWindowRect($_.MainWindowHandle, [ref]$r)) { @{ id = [int64]$_.MainWindowHandle; title = $_.MainWindowTitle; program = $_.ProcessName; x = $r.L; y = $r.T; w = $r.Rt - $r.L; h = $r.B - $r.T } } }
ConvertTo-Json -Compress -Depth 4 @{ displays = @($d); windows = @($w) }`;

const place = { x: z.int(), y: z.int(), w: z.int(), h: z.int() };
const windowsSchema = z.object({
  displays: z.array(z.object({ name: z.string(), primary: z.boolean(), ...place })),
  windows: z.array(
    z.object({ id: z.int(), title: z.string(), program: z.string().nullable().default(null), ...place }),
  ),
});
const leastSidePx = 64;
const placeOf = ({ x, y, w, h }: { x: number; y: number; w: number; h: number }) => ({
  leftPx: x,
  topPx: y,
  widthPx: w,
  heightPx: h,
});
const shown = ({ w, h }: { w: number; h: number }): boolean => w >= leastSidePx && h >= leastSidePx;

/** @throws where the answer is none */
export function windowsScreens(answer: string): Pick<Screens, 'displays' | 'windows'> {
  const { displays, windows } = windowsSchema.parse(JSON.parse(answer));
  return {
    displays: displays.filter(shown).map(({ name, primary, ...at }): DisplayFacts => ({
      // Windows names them \\\\.\\DISPLAY1.
      name: name.replace(/^\\\\\.\\/, ''),
      primary,
      rateHz: null,
      ...placeOf(at),
    })),
    // A minimised window lies far outside.
    windows: windows
      .filter((one) => shown(one) && one.x > -30_000)
      .map(({ id, title, program, ...at }): WindowFacts => ({ windowId: id, title, program, ...placeOf(at) })),
  };
}

const macSchema = z.object({
  SPDisplaysDataType: z.array(
    z
      .object({
        spdisplays_ndrvs: z
          .array(
            z
              .object({
                _name: z.string(),
                _spdisplays_pixels: z.string().optional(),
                spdisplays_main: z.string().optional(),
                _spdisplays_resolution: z.string().optional(),
              })
              .loose(),
          )
          .optional(),
      })
      .loose(),
  ),
});

/** `system_profiler SPDisplaysDataType -json`; it tells no places, and no windows. @throws where the answer is none */
export function macScreens(answer: string): Pick<Screens, 'displays' | 'windows'> {
  const found = macSchema.parse(JSON.parse(answer)).SPDisplaysDataType.flatMap((card) => card.spdisplays_ndrvs ?? []);
  return {
    displays: found.flatMap((one, i): DisplayFacts[] => {
      const [, wide, high] = /(\d+)\s*x\s*(\d+)/.exec(one._spdisplays_pixels ?? '') ?? [];
      if (!wide || !high) return [];
      const rate = /@\s*([\d.]+)\s*Hz/.exec(one._spdisplays_resolution ?? '')?.[1];
      return [
        {
          name: `${one._name} ${i + 1}`,
          ...{ leftPx: 0, topPx: 0, widthPx: Number(wide), heightPx: Number(high) },
          rateHz: rate ? Number(rate) : null,
          primary: one.spdisplays_main === 'spdisplays_yes',
        },
      ];
    }),
    windows: [],
  };
}

export async function askWindows(): Promise<Screens> {
  const { stdout } = await run('powershell.exe', ['-NoProfile', '-NonInteractive', '-Command', windowsScript], {
    timeout: patienceMs,
    windowsHide: true,
  });
  return { trouble: null, ...windowsScreens(stdout) };
}

export async function askMac(): Promise<Screens> {
  const { stdout } = await run('system_profiler', ['SPDisplaysDataType', '-json'], { timeout: patienceMs });
  return { trouble: null, ...macScreens(stdout) };
}
