import type { Picture } from "../engine/questions";

/**
 * Pictures made ready to be played, by frame. They hold for one way of making them; what is made otherwise begins anew.
 */
export class ReadyPictures {
  private readonly pictures = new Map<number, Picture>();
  private bytes = 0;
  private made = "";

  constructor(
    /** Bytes kept at most. */
    private readonly budget: number,
  ) {}

  /** Says how pictures are made from now on; those made otherwise are forgotten. */
  madeBy(way: string): void {
    if (way === this.made) return;
    this.made = way;
    this.pictures.clear();
    this.bytes = 0;
  }

  get(frame: number): Picture | undefined {
    return this.pictures.get(frame);
  }

  /** Keeps a picture. Where there is no room, the first ones stay: a shot that is played again begins with them. */
  keep(frame: number, picture: Picture): void {
    if (this.pictures.has(frame) || this.bytes + picture.pixels.byteLength > this.budget) return;
    this.pictures.set(frame, picture);
    this.bytes += picture.pixels.byteLength;
  }

  frames(): ReadonlySet<number> {
    return new Set(this.pictures.keys());
  }
}
