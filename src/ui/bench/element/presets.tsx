import type { Values } from "@/core/elements/definition";
import { definitionOf } from "@/core/elements/registry";
import { setAll } from "@/core/look/edit";
import { commit } from "../../shot/document";
import { useShownLook } from "../../shot/shown-look";
import { viewNow } from "../../view/store";

/** Sets of values that an element may begin from, where its definition has some. */
export function Presets({ id }: { id: string }) {
  const { at } = useShownLook();
  const { kind, state } = at.elements.find((entry) => entry.id === id)!;
  const { presets } = definitionOf(kind);
  if (!presets) return null;
  const isSet = (values: Values) =>
    Object.entries(values).every(([name, value]) => JSON.stringify(state.values[name]) === JSON.stringify(value));
  const put = (name: string) => {
    const values = Object.entries((presets.find((preset) => preset.name === name)?.values ?? {}) as Values);
    if (!values.length) return;
    commit((now) =>
      setAll(
        now,
        values.map(([value, to]) => [[id, value], to]),
        viewNow().frame,
      ),
    );
  };
  return (
    <label
      className="grid grid-cols-[7.5rem_1fr] items-center gap-2"
      title="Sets the values below; they can be changed from there."
    >
      <span>Begin from</span>
      <select
        className="select select-xs w-full"
        value={presets.find(({ values }) => isSet(values as Values))?.name ?? ""}
        onChange={(event) => put(event.target.value)}
      >
        <option value="">Values of its own</option>
        {presets.map(({ name }) => (
          <option key={name} value={name}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
}
