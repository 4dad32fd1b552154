/**
 * SMPTE ST 12 time code: frames counted at a nominal rate, with numbers left out at 29.97 and 59.94 where it says so.
 */
export interface TimeCode {
  /** Frames since 00:00:00:00, as they run. */
  frames: number;
  /** Frame numbers are dropped, so that the count keeps up with the clock. */
  drop: boolean;
}

/** The whole rate that frames are numbered at. */
const nominal = (frameRate: number) => Math.max(1, Math.round(frameRate));

/** Numbers left out at the start of every minute but each tenth. */
const droppedAt = (rate: number) => Math.round(rate / 15);
/** Only rates of 30 and its multiples have numbers to drop. */
const canDrop = (rate: number) => rate % 30 === 0;

const PATTERN = /^(\d\d):(\d\d):(\d\d)([:;.])(\d\d)$/;

/** Reads HH:MM:SS:FF, or HH:MM:SS;FF with dropped numbers. Null where it is none, or has a number that is dropped. */
export function readTimeCode(text: string, frameRate: number): TimeCode | null {
  const found = PATTERN.exec(text.trim());
  if (!found) return null;
  const [hours, minutes, seconds, , number] = found.slice(1).map(Number) as [number, number, number, number, number];
  const rate = nominal(frameRate);
  const drop = found[4] !== ":" && canDrop(rate);
  if (hours > 23 || minutes > 59 || seconds > 59 || number >= rate) return null;
  if (drop && seconds === 0 && minutes % 10 !== 0 && number < droppedAt(rate)) return null;
  const counted = ((hours * 60 + minutes) * 60 + seconds) * rate + number;
  const whole = hours * 60 + minutes;
  return { frames: counted - (drop ? droppedAt(rate) * (whole - Math.floor(whole / 10)) : 0), drop };
}

/** Frames from midnight to midnight. */
export function framesADay({ drop }: Pick<TimeCode, "drop">, frameRate: number): number {
  const rate = nominal(frameRate);
  const tenMinutes = 600 * rate - (drop ? 9 * droppedAt(rate) : 0);
  return 6 * 24 * tenMinutes;
}

/** Writes a time code as it is read. */
export function timeCodeText({ frames, drop }: TimeCode, frameRate: number): string {
  const rate = nominal(frameRate);
  const isDropped = drop && canDrop(rate);
  let number = Math.max(0, frames);
  if (isDropped) {
    const left = droppedAt(rate);
    const tenMinutes = 600 * rate - 9 * left;
    const minute = 60 * rate - left;
    const within = number % tenMinutes;
    const after = within < 60 * rate ? 0 : 1 + Math.floor((within - 60 * rate) / minute);
    number += left * (9 * Math.floor(number / tenMinutes) + after);
  }
  const two = (value: number) => String(value).padStart(2, "0");
  const seconds = Math.floor(number / rate);
  return `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}${isDropped ? ";" : ":"}${two(number % rate)}`;
}

/** The time code so many frames on. */
export const later = ({ frames, drop }: TimeCode, by: number): TimeCode => ({ frames: frames + by, drop });
