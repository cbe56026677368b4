/** When everything was last backed up, and a backup made and taken away. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, api } from "../../device/client";
import { wrongOf } from "../../ui/faults";
import { clock, day } from "../../ui/format";
import { Wrong } from "../../ui/Wrong";

export function LastBackup() {
  const queries = useQueryClient();
  const last = useQuery({
    queryKey: ["backup"],
    queryFn: async () => answered(await api.GET("/api/backup")),
    retry: false,
  });
  const make = useMutation({
    mutationFn: async () => answered(await api.POST("/api/backup")),
    onSuccess: (made) => {
      queries.setQueryData(["backup"], made);
      const link = window.document.createElement("a");
      link.href = `/api/backup/${made.name}`;
      link.download = made.name ?? "";
      link.click();
    },
  });
  // Whoever does not lead every team here is not asked to.
  if (!last.data) return null;
  const { made_at, bytes } = last.data;
  return (
    <section aria-label="Backup" className="mt-6 flex flex-wrap items-center gap-4 border-t border-line pt-3">
      <p className="text-answer" data-testid="last-backup">
        {made_at
          ? `Last backup ${day(made_at)}, ${clock(made_at)}, ${bytes < 1e6 ? `${Math.ceil(bytes / 1e3)} kB` : `${(bytes / 1e6).toFixed(1)} MB`}.`
          : "◆ Nothing here has been backed up yet."}
      </p>
      <button type="button" className="button" disabled={make.isPending} onClick={() => make.mutate()}>
        {make.isPending ? "Backing up" : "Back up now and take it away"}
      </button>
      {make.isError ? <Wrong>{wrongOf(make.error)} Nothing was made; the one before is still there.</Wrong> : null}
    </section>
  );
}
