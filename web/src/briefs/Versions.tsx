import { useQuery } from '@tanstack/react-query';
import { Select } from 'antd';
import { useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { keyOf } from '../api/keys';
import { counted, moment, number } from '../pieces/format';
import ui from '../pieces/ui.module.css';

/** The versions that were kept: one to go on with, and what changed since another. */
export function Versions({
  texts,
  from,
  open,
}: {
  texts: readonly Schema['BriefText'][];
  from: number | undefined;
  open: (id: number) => void;
}) {
  const [before, setBefore] = useState<number>();
  const current = from ?? texts[0]!.id;
  const differences = useQuery({
    queryKey: keyOf('text differences', current, before),
    enabled: before !== undefined && before !== current,
    queryFn: () =>
      answer(
        api.GET('/api/briefs/texts/{id}/differences', { params: { path: { id: current }, query: { from: before! } } }),
      ),
  });
  const options = texts.map((t) => ({
    value: t.id,
    label: [moment(t.madeAt), counted(t.words, 'word'), t.name, t.author].filter(Boolean).join(', '),
  }));
  return (
    <div className={ui.form}>
      <label>
        <span>Versions that were kept</span>
        <Select aria-label="Version" placeholder="open one" value={from ?? null} options={options} onChange={open} />
      </label>
      {texts.length > 1 && (
        <label>
          <span>Compare it with</span>
          <Select
            aria-label="Compare with"
            placeholder="an older version"
            allowClear
            value={before ?? null}
            options={options.filter((o) => o.value !== current)}
            onChange={(id) => setBefore(id ?? undefined)}
          />
        </label>
      )}
      {differences.data && (
        <>
          <p className={ui.second}>
            {counted(differences.data.added.length, 'sentence')} new, {number(differences.data.removed.length)} gone.
          </p>
          <ul>
            {differences.data.added.map((s) => (
              <li key={`+ ${s}`}>
                <b>new</b> {s}
              </li>
            ))}
            {differences.data.removed.map((s) => (
              <li key={`- ${s}`} className={ui.second}>
                <b>gone</b> <s>{s}</s>
              </li>
            ))}
          </ul>
        </>
      )}
      <hr />
    </div>
  );
}
