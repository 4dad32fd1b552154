"use client";
import type { FieldErrors, UseFormRegister } from "react-hook-form";
import { AP0, AP1, conversion, P3_D65, REC2020, REC709 } from "@/core/colour/primaries";
import { CURVE_FIELDS, type Draft } from "./draft";

const PRIMARIES = { AP1: AP1, AP0: AP0, "BT.709": REC709, "BT.2020": REC2020, "P3, D65": P3_D65 } as const;

const marked = (isWrong: unknown) => (isWrong ? "border-warning" : "");

/** Name, numbers and matrix of a log encoding. */
export function CurveFields({
  register,
  errors,
  onMatrix,
}: {
  register: UseFormRegister<Draft>;
  errors: FieldErrors<Draft>;
  onMatrix(matrix: string[]): void;
}) {
  return (
    <div className="flex flex-col gap-1.5">
      <label className="grid grid-cols-[8.5rem_9rem] items-center">
        Name
        <input className="input input-xs" maxLength={120} {...register("name")} />
      </label>
      {CURVE_FIELDS.map((field) => (
        <label key={field.name} className="grid grid-cols-[8.5rem_9rem] items-center">
          {field.label}
          <input
            className={`input input-xs figures text-right ${marked(errors.params?.[field.name])}`}
            inputMode="decimal"
            placeholder={"empty" in field ? field.empty : undefined}
            aria-invalid={errors.params?.[field.name] ? true : undefined}
            {...register(`params.${field.name}`)}
          />
        </label>
      ))}
      <label className="grid grid-cols-[8.5rem_9rem] items-center">
        Primaries
        <select
          className="select select-xs"
          value=""
          onChange={(event) => {
            const chosen = PRIMARIES[event.target.value as keyof typeof PRIMARIES];
            if (chosen) onMatrix(conversion(chosen, AP1).map((value) => String(Number(value.toFixed(8)))));
          }}
        >
          <option value="">fill the matrix …</option>
          {Object.keys(PRIMARIES).map((name) => (
            <option key={name}>{name}</option>
          ))}
        </select>
      </label>
      <p className="text-quiet">Matrix to working light (AP1)</p>
      <div className="grid w-fit grid-cols-3 gap-1">
        {Array.from({ length: 9 }, (_, i) => (
          <input
            key={i}
            className={`input input-xs figures w-24 px-1 text-right ${marked(errors.matrix?.[i])}`}
            aria-label={`Matrix row ${Math.floor(i / 3) + 1}, column ${(i % 3) + 1}`}
            {...register(`matrix.${i}`)}
          />
        ))}
      </div>
    </div>
  );
}
