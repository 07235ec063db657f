import { useMutation } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';
import { answer, api } from '../api/client';
import { useChange } from '../api/hooks';
import { counted, number, shortUrl } from '../pieces/format';
import ui from '../pieces/ui.module.css';

/** Keywords that rivals' pages for the same clusters rank for, and this page does not. */
export function RivalKeywordsPart({ id, rivals, host }: { id: number; rivals: string[]; host: string | undefined }) {
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set());
  const ask = useMutation({
    mutationFn: () => answer(api.POST('/api/refresh/pages/{id}/rival-keywords', { params: { path: { id } } })),
  });
  const bring = useChange(
    (phrases: string[]) =>
      answer(api.POST('/api/keywords/paste', { body: { text: phrases.join('\n'), listId: null } })),
    () => {
      setPicked(new Set());
      return 'Added to the keywords.';
    },
  );
  if (rivals.length === 0) return null;
  const toggle = (phrase: string) => {
    const next = new Set(picked);
    if (!next.delete(phrase)) next.add(phrase);
    setPicked(next);
  };
  return (
    <>
      <h3>What rivals’ pages rank for, and this one doesn’t</h3>
      {!ask.data && (
        <>
          <p className={ui.second}>
            The rankings service is asked about {counted(rivals.length, 'page')} that rank for its clusters:{' '}
            {rivals.map((r) => shortUrl(r, host)).join(', ')}.
          </p>
          <div className={ui.acts}>
            <Button loading={ask.isPending} onClick={() => ask.mutate()}>
              Ask for {counted(rivals.length, 'ranking')}
            </Button>
          </div>
          {ask.error && <p className={ui.clay}>{ask.error.message}</p>}
        </>
      )}
      {ask.data?.keywords.length === 0 && <p>Nothing that this page doesn’t rank for too.</p>}
      {ask.data && ask.data.keywords.length > 0 && (
        <>
          <table className={ui.facts}>
            <thead>
              <tr>
                <th />
                <th>Keyword</th>
                <th className={ui.num}>Volume, est.</th>
                <th className={ui.num}>Pos.</th>
              </tr>
            </thead>
            <tbody>
              {ask.data.keywords.slice(0, 30).map((k) => (
                <tr key={k.phrase}>
                  <td>
                    <input
                      type="checkbox"
                      aria-label={`Pick “${k.phrase}”`}
                      disabled={k.isKnown}
                      checked={picked.has(k.phrase)}
                      onChange={() => toggle(k.phrase)}
                    />
                  </td>
                  <td title={k.url}>
                    {k.phrase}
                    {k.isKnown && <span className={ui.second}> is a keyword already</span>}
                  </td>
                  <td className={ui.num}>{number(k.volume)}</td>
                  <td className={ui.num}>{k.position}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <div className={ui.acts}>
            <Button disabled={picked.size === 0} loading={bring.isPending} onClick={() => bring.mutate([...picked])}>
              Add {counted(picked.size, 'keyword')}
            </Button>
          </div>
        </>
      )}
    </>
  );
}
