import { area, type AreaOutput } from "./area";
import { codes, type CodesOutput } from "./codes";
import type { OutputDefinition } from "./definition";
import { difference, type DifferenceOutput } from "./difference";
import { display, type DisplayOutput } from "./display";
import { light, type LightOutput } from "./light";
import { scopes, type ScopesOutput } from "./scopes";
import { matte, type MatteOutput } from "./matte";

/** What is wanted of the compiled frame. */
export type Output =
  LightOutput | CodesOutput | DisplayOutput | MatteOutput | AreaOutput | DifferenceOutput | ScopesOutput;

const OUTPUTS: { [K in Output["kind"]]: OutputDefinition<Extract<Output, { kind: K }>> } = {
  light,
  codes,
  display,
  matte,
  area,
  difference,
  scopes,
};

export const outputNamed = ({ kind }: Output): OutputDefinition<Output> => OUTPUTS[kind] as OutputDefinition<Output>;
