/** Why something was not done, for the program that asked; the words beside it are for the person at the screen. */
export const PROBLEM_CODES = ["still-computing", "too-long", "refused"] as const;
export type ProblemCode = (typeof PROBLEM_CODES)[number];

export interface Problem {
  code: ProblemCode;
  message: string;
}

/** The code in a server's answer: one that is not known here says no more than that it was refused. */
export const codeIn = (answer: { code?: unknown }): ProblemCode =>
  PROBLEM_CODES.find((code) => code === answer.code) ?? "refused";
