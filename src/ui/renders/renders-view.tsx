"use client";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../shared/api";
import { shotTitle, useProductions } from "../shared/production";
import { DeliveryForm } from "./delivery-form";
import { Order } from "./order-form";
import { isEnded, RenderRow } from "./render-row";
import { RenderViewer } from "./viewer/viewer";
import { Workers } from "./workers";

/** What is queued, running and done. */
export function RendersView() {
  const client = useQueryClient();
  const renders = useQuery({
    queryKey: ["renders"],
    queryFn: api.renders,
    refetchInterval: ({ state }) => (state.data?.every(isEnded) ? 4000 : 600),
  });
  const shots = useQuery({ queryKey: ["shots"], queryFn: api.shots });
  // A shot that is gone has no name any more.
  const nameOf = (id: string) => {
    const shot = shots.data?.find((entry) => entry.id === id);
    return shot ? shotTitle(shot) : id;
  };
  const refresh = () => client.invalidateQueries({ queryKey: ["renders"] });
  const [isDelivery, setDelivery] = useState(false);
  // In the order they are taken: the highest priority, then the oldest.
  const { all, current } = useProductions();
  // What was rendered in a production that is gone since is shown in each.
  const own = renders.data?.filter(
    ({ productionId }) => productionId === current?.id || !all.some(({ id }) => id === productionId),
  );
  const [next] = (renders.data ?? [])
    .filter((one) => !isEnded(one))
    .sort((a, b) => b.priority - a.priority || a.id - b.id);
  const [opened, setOpened] = useState<number | null>(null);
  const shown = renders.data?.find(({ id }) => id === opened);
  if (shown)
    return (
      <RenderViewer
        key={shown.id}
        render={shown}
        title={nameOf(shown.shotId)}
        others={renders.data!.filter(({ id, shotId }) => id !== shown.id && shotId === shown.shotId)}
        isEnded={isEnded(shown)}
        onClose={() => setOpened(null)}
      />
    );
  return (
    <div className="h-full overflow-y-auto p-4">
      <div className="mb-3 flex items-center gap-4">
        <h1 className="text-lg font-semibold">Renders</h1>
        <div role="group" aria-label="What to queue" className="join">
          {[false, true].map((many) => (
            <button
              key={String(many)}
              type="button"
              className={`btn btn-xs join-item ${isDelivery === many ? "halo" : ""}`}
              aria-pressed={isDelivery === many}
              onClick={() => setDelivery(many)}
            >
              {many ? "A delivery of several" : "One render"}
            </button>
          ))}
        </div>
      </div>
      {isDelivery ? <DeliveryForm onAdded={() => void refresh()} /> : <Order onAdded={() => void refresh()} />}
      <Workers />
      <table className="table-sm table">
        <thead>
          <tr>
            <th>No.</th>
            <th>Shot</th>
            <th>Version</th>
            <th>Format</th>
            <th>State</th>
            <th className="w-64">Progress</th>
            <th>Speed</th>
            <th>Folder</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {own?.map((render) => (
            <RenderRow
              key={render.id}
              render={render}
              shot={nameOf(render.shotId)}
              next={next ?? null}
              onOpen={() => setOpened(render.id)}
              onChanged={refresh}
            />
          ))}
        </tbody>
      </table>
      {own?.length === 0 && (
        <p className="mt-6 text-center text-quiet">Nothing has been rendered yet. Choose a shot and a version above.</p>
      )}
    </div>
  );
}
