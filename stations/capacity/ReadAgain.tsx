'use client';

import type { DischargeLoad } from '@/core/capacity/discharge';
import type { LogMapping } from '@/core/capacity/logMapping';
import type { LogPreview } from '@/workers/preview.worker';
import { type FormEvent, useState } from 'react';
import Button from 'react-bootstrap/Button';
import { Understood } from './ImportForm';
import { LoadFields, loadTyped } from './LoadFields';
import { lookAtLog } from '../lookAtFile';
import { MappingTable } from './MappingTable';

interface ReadAgainProps {
  runId: number;
  series: number;
  load: DischargeLoad;
  loadTolerance: number | null;
  mapping: LogMapping | null;
}

/** The file of a run, to be read otherwise: its samples and figures are made again, and the file stays as it is. */
export function ReadAgain({ runId, series, load, loadTolerance, mapping: now }: ReadAgainProps) {
  const [kind, setKind] = useState(load.kind);
  const [mapping, setMapping] = useState(now);
  const [preview, setPreview] = useState<LogPreview | null>(null);
  const [refused, setRefused] = useState<string | null>(null);
  const [isSending, setSending] = useState(false);

  const look = async (mapping: LogMapping | null, sheet?: string) => {
    setMapping(mapping);
    setRefused(null);
    try {
      const seen = await lookAtLog(`/api/v1/runs/${runId}/file`, { series, mapping: mapping ?? undefined }, sheet);
      setPreview(seen);
      if (sheet !== undefined) setMapping(seen.mapping);
    } catch {
      setRefused('The file could not be fetched; try again.');
    }
  };
  const submit = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const drawn = loadTyped(new FormData(event.currentTarget));
    if ('refused' in drawn) return setRefused(drawn.refused);
    setSending(true);
    const answer = await fetch(`/api/v1/runs/${runId}/layouts`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ ...drawn, mapping }),
    }).catch(() => null);
    setSending(false);
    if (answer?.ok) return window.location.reload();
    const { error } = (await answer?.json().catch(() => ({}))) as { error?: { message: string } };
    setRefused(error?.message ?? 'The server did not answer; nothing was changed. Try again.');
  };
  const figures = {
    resistor: 'resistanceOhm' in load ? load.resistanceOhm : undefined,
    current: 'currentA' in load ? load.currentA : undefined,
    column: undefined,
  };

  return (
    <details className="sheet mb-3" onToggle={(event) => event.currentTarget.open && !preview && void look(mapping)}>
      <summary>Read the file with other settings</summary>
      <form onSubmit={(event) => void submit(event)} noValidate>
        <p className="soft mt-2">
          Its samples and figures are made again; the file stays as it arrived, and this can be taken back the same way.
        </p>
        <div className="fields mb-3">
          <LoadFields kind={kind} onKind={setKind} figure={figures[kind]} tolerance={loadTolerance} />
        </div>
        {preview && (
          <>
            <MappingTable
              head={preview.head}
              sheets={preview.sheets}
              mapping={mapping ?? preview.mapping}
              series={series}
              onChange={(mapping) => void look(mapping)}
              onSheet={(sheet) => void look(null, sheet)}
            />
            <Understood preview={preview} />
          </>
        )}
        {refused && (
          <p className="hot mt-2 mb-0" role="alert">
            ◆ {refused}
          </p>
        )}
        <div className="d-flex gap-3 mt-3">
          <Button type="submit" variant="ember" disabled={isSending || !preview || 'said' in preview.understood}>
            {isSending ? 'Reading …' : 'Read it so'}
          </Button>
          {mapping && (
            <Button variant="quiet" onClick={() => void look(null)}>
              As the file says
            </Button>
          )}
        </div>
      </form>
    </details>
  );
}
