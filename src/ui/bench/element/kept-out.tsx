import { elementNamed } from "@/core/look/edit";
import { setShown } from "@/core/look/timing";
import { commit } from "../../shot/document";
import { useShownLook } from "../../shot/shown-look";
import { viewNow } from "../../view/store";

/** Whether an element acts at its own strength, where the whole look has one of its own. */
export function KeptOut({ id }: { id: string }) {
  const { look, at } = useShownLook();
  const keptOut = elementNamed(look, id).keptOut ?? false;
  const { state } = at.elements.find((entry) => entry.id === id)!;
  if (at.strength === 1 && !keptOut) return null;
  return (
    <label
      className="grid grid-cols-[7.5rem_1fr] items-center gap-2"
      title="It acts at its own strength, whatever the overall strength is."
    >
      <span>Kept out</span>
      <span className="flex items-center gap-2">
        <input
          type="checkbox"
          className="toggle toggle-xs"
          checked={keptOut}
          onChange={(event) => {
            const { checked } = event.target;
            commit((now) => setShown(now, [id, "keptOut"], checked, keptOut, viewNow().frame));
          }}
        />
        <span className="text-quiet">
          {keptOut ? "of the overall strength" : `with overall strength: ${state.strength.toFixed(2)} ×`}
        </span>
      </span>
    </label>
  );
}
