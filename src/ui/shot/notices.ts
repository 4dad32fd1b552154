/** Windows of one browser tell each other what they saved. */
export const LOOKS_CHANNEL = "pale-halo looks";

export interface SaveNotice {
  shotId: string;
  revision: number;
}
