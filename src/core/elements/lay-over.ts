import type { Parameter } from "./definition";

/** How an element's light joins the picture, shared by those that may be laid over it. `group`: none where left out. */
export const layOverParameter = (what: string, group?: string) =>
  ({
    type: "choice",
    ...(group ? { group } : {}),
    label: "Lay over",
    options: {
      add: "Add",
      screen: "Screen",
      lighten: "Lighten",
      soft: "Soft light",
      overlay: "Overlay",
      dodge: "Dodge",
    },
    default: "add",
    help: `How ${what} joins the picture.`,
  }) as const satisfies Parameter;
