import type { Channel } from "../../header";

/**
 * Which channels DWA keeps by cosine transform, which by runs, which as they are (ImfDwaCompressor). A rule names the
 * end of a channel's name, its type, and its place among the three that share a luma-chroma transform.
 */
export type Scheme = "deflate" | "dct" | "runs";
export const SCHEMES: Scheme[] = ["deflate", "dct", "runs"];

export interface Rule {
  suffix: string;
  scheme: Scheme;
  type: Channel["type"];
  /** 0 to 2 for red, green and blue; -1 for none. */
  colour: number;
  anyCase: boolean;
}

const TYPES: Channel["type"][] = ["uint", "half", "float"];
const dct = (suffix: string, colour: number, anyCase: boolean): Rule[] =>
  (["half", "float"] as const).map((type) => ({ suffix, scheme: "dct", type, colour, anyCase }));
const runs = (suffix: string, anyCase: boolean): Rule[] =>
  TYPES.map((type) => ({ suffix, scheme: "runs", type, colour: -1, anyCase }));

export const RULES: Rule[] = [
  ...dct("R", 0, false),
  ...dct("G", 1, false),
  ...dct("B", 2, false),
  ...dct("Y", -1, false),
  ...dct("BY", -1, false),
  ...dct("RY", -1, false),
  ...runs("A", false),
];

/** Files of the first version carry no rules; these are meant. */
export const FIRST_RULES: Rule[] = [
  ...["r", "red"].flatMap((name) => dct(name, 0, true)),
  ...["g", "grn", "green"].flatMap((name) => dct(name, 1, true)),
  ...["b", "blu", "blue"].flatMap((name) => dct(name, 2, true)),
  ...["y", "by", "ry"].flatMap((name) => dct(name, -1, true)),
  ...runs("a", true),
];

export function readRules(bytes: Buffer): Rule[] {
  const rules: Rule[] = [];
  let at = 0;
  while (at < bytes.length) {
    const end = bytes.indexOf(0, at);
    if (end < 0 || end + 2 >= bytes.length) throw new Error("its channel rules are damaged");
    const flags = bytes[end + 1]!;
    const type = TYPES[bytes[end + 2]!];
    const scheme = SCHEMES[(flags >> 2) & 3];
    const colour = (flags >> 4) - 1;
    if (!type || !scheme || colour > 2) throw new Error("its channel rules are damaged");
    rules.push({ suffix: bytes.toString("latin1", at, end), scheme, type, colour, anyCase: Boolean(flags & 1) });
    at = end + 3;
  }
  return rules;
}

export const writeRules = (rules: Rule[]): Buffer =>
  Buffer.concat(
    rules.map(({ suffix, scheme, type, colour, anyCase }) =>
      Buffer.concat([
        Buffer.from(`${suffix}\0`, "latin1"),
        Buffer.of(((colour + 1) << 4) | (SCHEMES.indexOf(scheme) << 2) | Number(anyCase), TYPES.indexOf(type)),
      ]),
    ),
  );

export const ruleFor = (rules: Rule[], { name, type }: Channel): Rule | undefined => {
  const suffix = name.slice(name.lastIndexOf(".") + 1);
  return rules.find(
    (rule) =>
      rule.type === type &&
      (rule.anyCase ? rule.suffix.toLowerCase() === suffix.toLowerCase() : rule.suffix === suffix),
  );
};

export interface Grouping {
  /**
   * Indices of channels transformed together, in the order their coefficients are stored: three of one layer, or one.
   */
  transformed: number[][];
  runs: number[];
  deflated: number[];
}

export function groupChannels(channels: Channel[], rules: Rule[]): Grouping {
  const schemes = channels.map((channel) => ruleFor(rules, channel));
  const layers = new Map<string, number[]>();
  channels.forEach(({ name }, i) => {
    const rule = schemes[i];
    if (rule?.scheme !== "dct" || rule.colour < 0) return;
    const prefix = name.slice(0, name.lastIndexOf(".") + 1);
    const members = layers.get(prefix) ?? [];
    members[rule.colour] = i;
    layers.set(prefix, members);
  });
  const triples = [...layers]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .map(([, members]) => members)
    .filter((members) => [0, 1, 2].every((c) => members[c] !== undefined));
  const grouped = new Set(triples.flat());
  const of = (scheme: Scheme) =>
    channels.map((_, i) => i).filter((i) => (schemes[i]?.scheme ?? "deflate") === scheme && !grouped.has(i));
  return { transformed: [...triples, ...of("dct").map((i) => [i])], runs: of("runs"), deflated: of("deflate") };
}
