"use client";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { toast } from "sonner";
import type { FarmWorker } from "../../contract/farm";
import { api } from "../shared/api";

const STATUS_EVERY_MS = 2000;

function doesWhat({ renderId, isDraining, isTakenForDead }: FarmWorker, isOther: boolean): string {
  if (isTakenForDead) return "Not heard: others make what it had";
  if (isOther) return "Makes other pixels: takes nothing";
  const does = renderId === null ? "Waits" : `Makes render ${renderId}`;
  return isDraining ? `${does}; takes no more` : does;
}

/** Who makes frames, on this machine and on others. */
export function Workers() {
  const client = useQueryClient();
  const { data } = useQuery({ queryKey: ["farm"], queryFn: api.farm, refetchInterval: STATUS_EVERY_MS });
  const drain = useMutation({
    mutationFn: ({ id, isDraining }: FarmWorker) => api.drainWorker(id, !isDraining),
    onSuccess: () => client.invalidateQueries({ queryKey: ["farm"] }),
    onError: (error) => toast.error(error.message),
  });
  if (!data) return <div className="mb-3 h-16" />;
  return (
    <section aria-label="Who makes frames" className="mb-3 min-h-16">
      <table className="table-sm table">
        <thead>
          <tr>
            <th>Who makes frames</th>
            <th>Machine</th>
            <th>Does</th>
            <th>Frames made</th>
            <th>Speed</th>
            <th>Heard</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {data.workers.map((worker) => (
            <tr key={worker.id} data-worker={worker.name}>
              <td>{worker.name}</td>
              <td>{worker.host}</td>
              <td className={worker.isTakenForDead ? "text-warning" : ""}>
                {doesWhat(worker, worker.engine !== data.engine)}
              </td>
              <td className="figures">{worker.frames}</td>
              <td className="figures whitespace-nowrap">
                {worker.framesPerSecond === null ? "—" : `${worker.framesPerSecond.toFixed(2)} fps`}
              </td>
              <td className="figures whitespace-nowrap">{worker.silentFor.toFixed(0)} s ago</td>
              <td>
                <button
                  type="button"
                  className="btn btn-xs"
                  aria-label={worker.isDraining ? `Work for ${worker.name} again` : `No more work for ${worker.name}`}
                  title={worker.isDraining ? "It takes what waits" : "It finishes what it has in hand, and no more"}
                  onClick={() => drain.mutate(worker)}
                >
                  {worker.isDraining ? "Work again" : "No more work"}
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {data.workers.length === 0 && (
        <p className="text-quiet">Nobody makes frames now: what is queued waits for a worker.</p>
      )}
    </section>
  );
}
