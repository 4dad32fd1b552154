"use client";
import { useMemo } from "react";
import { workOf } from "@/core/elements/definition";
import { definitionOf } from "@/core/elements/registry";
import { cautionsOf } from "@/core/judge/cautions";
import { ResponsePlot } from "../../shared/plot";
import { useShownLook } from "../../shot/shown-look";
import { PICTURE } from "../../view/inspect";
import { setView, useView } from "../../view/store";
import { WhereFields } from "../where/where-fields";
import { Cautions } from "../fields/cautions";
import { DecisionList } from "./decision-list";
import { ElementHead } from "./element-head";
import { ElementHelp } from "./element-help";
import { Parameters, useNumbers } from "../fields/parameters";
import { PickButton } from "../fields/pick-button";
import { Presets } from "./presets";
import { KeptOut } from "./kept-out";
import { Section, useSections } from "./sections";
import { WhenList } from "./when-list";

/** All that is set of one element: its head stays, What, Where and When scroll under it. */
export function ElementPanel({ id }: { id: string }) {
  const { look, at } = useShownLook();
  const { inspect, help } = useView("inspect", "help");
  const { context, elements } = at;
  const element = elements.find((entry) => entry.id === id)!;
  const { kind, state } = element;
  const definition = definitionOf(kind);
  const response = useMemo(() => definition.response(state, context), [definition, JSON.stringify(state), context]); // eslint-disable-line react-hooks/exhaustive-deps
  const setNumbers = useNumbers(id, kind);
  const sections = useSections(id);
  const isMatte = inspect.kind === "matte";
  return (
    <>
      <ElementHead id={id} sections={sections} />
      <div
        ref={sections.room}
        onScroll={sections.onScroll}
        className="flex min-h-0 flex-1 flex-col gap-2 overflow-y-auto p-3"
      >
        <Section name="what">
          <p className="text-quiet">{definition.summary}</p>
          {help && <ElementHelp kind={kind} />}
          <KeptOut id={id} />
          <Cautions said={cautionsOf(element, context)} />
          <ResponsePlot response={response} height={150} onSet={setNumbers} />
          {definition.key?.(state) && (
            <button
              type="button"
              className="btn btn-xs self-start"
              aria-pressed={isMatte}
              onClick={() => setView({ inspect: isMatte ? PICTURE : { kind: "matte" } })}
            >
              {isMatte ? "Back to the picture" : "Show the matte"}
            </button>
          )}
          <Presets id={id} />
          {definition.exchanges === "cdl" && <DecisionList look={look} id={id} state={state} />}
          {definition.picks && (
            <PickButton
              label={definition.picks.label}
              id={id}
              before={id}
              take={(light) => setNumbers(definition.picks!.take(light) as Record<string, number>)}
            />
          )}
          <Parameters id={id} />
        </Section>
        <Section name="where">
          <WhereFields look={look} id={id} movesLight={workOf(definition, state).kind !== "point"} />
        </Section>
        <Section name="when">
          <WhenList id={id} />
        </Section>
      </div>
    </>
  );
}
