import { elementsOf, moveElement, putElement, removeElement, switchElement } from "@/core/look/edit";
import type { LookElement } from "@/core/look/look";
import type { Command } from "../../shell/command";
import { add, commit, lookNow } from "../../shot/document";
import { PICTURE } from "../../view/inspect";
import { setView, viewNow } from "../../view/store";
import type { Place } from "./place";
import { selectedElement } from "./selected";

const select = (id: string | null) => setView({ selected: id, inspect: PICTURE });

/** Selects the element before or after the selected one; from none, the last or the first. */
function selectNext(by: 1 | -1): void {
  const { selected } = viewNow();
  const look = lookNow();
  const elements = look ? elementsOf(look) : [];
  if (!elements.length) return;
  const at = elements.findIndex(({ id }) => id === selected);
  const from = at < 0 && by < 0 ? elements.length : at;
  select(elements[(from + by + elements.length) % elements.length]!.id);
}

function move(by: 1 | -1): void {
  const { selected } = viewNow();
  const look = lookNow();
  const at = look ? elementsOf(look).findIndex(({ id }) => id === selected) : -1;
  if (at >= 0) commit((now) => moveElement(now, selected!, at + by));
}

/** What is done with the selected element. */
const ofPiece = { ofPiece: true, isPossible: () => selectedElement() !== undefined } as const;

/** Puts a copy of an element behind the selected one, and selects it. */
function put(element: LookElement | undefined): void {
  if (!element) return;
  const behind = selectedElement() ? viewNow().selected : null;
  select(add((look) => putElement(look, element, behind)));
}

/** The parts of the panel, and their keys. */
const SECTIONS = [
  { name: "What the element does, in the panel", key: "b", section: "to-section=what" },
  { name: "Where it acts, in the panel", key: "n", section: "to-section=where" },
  { name: "When it changes, in the panel", key: "u", section: "to-section=when" },
] as const;

/** Selecting elements, and what is done with the selected one. */
export const lightPathCommands = (context: Place): readonly Command[] => [
  { name: "Select the element before", group: "Light path", keys: ["["], run: () => selectNext(-1) },
  { name: "Select the element after", group: "Light path", keys: ["]"], run: () => selectNext(1) },
  {
    name: "Select nothing",
    group: "Light path",
    keys: ["Escape"],
    run: () => (viewNow().pictureAlone ? setView({ pictureAlone: false }) : select(null)),
  },
  {
    name: "Move the element towards the scene",
    group: "Light path",
    keys: ["Alt+ArrowLeft"],
    ...ofPiece,
    run: () => move(-1),
  },
  {
    name: "Move the element towards the screen",
    group: "Light path",
    keys: ["Alt+ArrowRight"],
    ...ofPiece,
    run: () => move(1),
  },
  {
    name: "Switch the element off and on",
    group: "Light path",
    keys: ["x"],
    ...ofPiece,
    run: () => {
      const element = selectedElement();
      if (element) commit((look) => switchElement(look, element.id, !element.on));
    },
  },
  {
    name: "This element alone, and back",
    group: "Light path",
    keys: ["a"],
    ...ofPiece,
    isOn: () => viewNow().alone,
    run: () => setView({ alone: !viewNow().alone }),
  },
  {
    name: "Duplicate the element",
    group: "Light path",
    keys: ["$mod+d"],
    ...ofPiece,
    run: () => put(selectedElement()),
  },
  {
    name: "Copy the element",
    group: "Light path",
    keys: ["$mod+c"],
    ofPiece: true,
    // Text that is marked is copied as text.
    isPossible: () => selectedElement() !== undefined && !getSelection()?.toString(),
    run: () => setView({ clipboard: selectedElement() ?? null }),
  },
  {
    name: "Paste the element behind this one, in any shot",
    group: "Light path",
    keys: ["$mod+v"],
    ofPiece: true,
    isPossible: () => viewNow().clipboard !== null,
    run: () => put(viewNow().clipboard ?? undefined),
  },
  {
    name: "Remove the element",
    group: "Light path",
    keys: ["Delete"],
    ...ofPiece,
    run: () => {
      const element = selectedElement();
      if (!element) return;
      commit((look) => removeElement(look, element.id));
      select(null);
    },
  },
  {
    name: "What the element is",
    group: "Light path",
    keys: ["F1"],
    ofPiece: true,
    isPossible: () => selectedElement() !== undefined,
    isOn: () => viewNow().help,
    run: () => setView({ help: !viewNow().help }),
  },
  ...SECTIONS.map(({ name, key, section }) => ({
    name,
    group: "Light path",
    keys: [key],
    isPossible: () => selectedElement() !== undefined,
    run: () => context.open(section),
  })),
  { name: "Glass drawer", group: "Light path", keys: ["g"], run: () => context.open("drawer") },
];
