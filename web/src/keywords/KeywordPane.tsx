import { useQuery } from '@tanstack/react-query';
import { Button, Form, InputNumber, Select } from 'antd';
import { Link } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { usePlaceName } from '../app/recent';
import { keywordEvidence } from '../api/evidence';
import { ChangeForm } from '../pieces/ChangeForm';
import { counted, decimal, moment, number } from '../pieces/format';
import { DemandCalendar } from '../pieces/Season';
import { Failed, Reading } from '../pieces/States';
import { ResultListPart } from '../results/ResultListPane';
import { sourceNouns } from './sources';
import ui from '../pieces/ui.module.css';

type Field = Schema['KeywordField'];

const fields: {
  field: Field;
  title: string;
  of: (value: Schema['SourceValue']) => string | null;
  now: (row: Schema['KeywordRow']) => string | null;
}[] = [
  {
    field: 'volume',
    title: 'Volume',
    of: (v) => (v.volume === null ? null : number(v.volume)),
    now: (r) => number(r.volume),
  },
  {
    field: 'difficulty',
    title: 'Difficulty',
    of: (v) => (v.difficulty === null ? null : decimal(v.difficulty, 0)),
    now: (r) => decimal(r.difficulty, 0),
  },
  {
    field: 'titleMatches',
    title: 'Title matches',
    of: (v) => (v.titleMatches === null ? null : number(v.titleMatches)),
    now: (r) => number(r.titleMatches),
  },
  {
    field: 'cpc',
    title: 'Cost per click',
    of: (v) => (v.cpc === null ? null : decimal(v.cpc, 2)),
    now: (r) => decimal(r.cpc, 2),
  },
  { field: 'intent', title: 'Intent', of: (v) => v.intent, now: (r) => r.intent },
];

/** A keyword: what each source said and which value is in force, its variants and lists, and its newest results. */
export function KeywordPane({ keywordId }: { keywordId: number }) {
  const view = useQuery(keywordEvidence(keywordId));
  usePlaceName(view.data?.keyword.phrase);
  const choose = useChange(({ field, sourceId }: { field: Field; sourceId: number | null }) =>
    answer(api.PUT('/api/keywords/{id}/choice', { params: { path: { id: keywordId } }, body: { field, sourceId } })),
  );
  const merge = useChange(
    (ids: number[]) => answer(api.POST('/api/keywords/merge', { body: { keepId: keywordId, ids } })),
    () => 'Merged.',
  );
  if (view.isError) return <Failed error={view.error} retry={() => void view.refetch()} />;
  if (!view.data) return <Reading />;
  const { keyword, sources, variants, lists } = view.data;
  const choices = view.data.choices as Partial<Record<Field, number>>;
  const own = sources.find((s) => s.impressions !== null);
  return (
    <>
      <h2>“{keyword.phrase}”</h2>
      <p>
        {keyword.clusterId ? (
          <>
            {keyword.capture === 'expected' ? 'Expected in' : 'In'} the cluster{' '}
            <Link to={`/clusters?id=${keyword.clusterId}`}>{keyword.clusterName}</Link>.
          </>
        ) : keyword.declinedFor ? (
          `Declined: ${keyword.declinedFor}.`
        ) : (
          'In no cluster.'
        )}{' '}
        {lists.length > 0 && <>In {lists.map((l) => `“${l.name}”`).join(', ')}. </>}
        {keyword.titleCompetition !== null &&
          `Its words are ${keyword.titleCompetition < 0.25 ? 'little used' : keyword.titleCompetition <= 1 ? 'contested' : 'crowded'} in titles (${decimal(keyword.titleCompetition, 2)} for each search).`}
      </p>
      {own && (
        <p>
          The site’s own count over 90 days: <b>{number(own.clicks)}</b> clicks of <b>{number(own.impressions)}</b>{' '}
          impressions at an average position of {decimal(own.position, 1)}. This is counted, not estimated.
        </p>
      )}
      {keyword.season && <DemandCalendar season={keyword.season} of={`“${keyword.phrase}”`} />}
      <h3>Values in use, and their sources</h3>
      <table className={ui.facts}>
        <tbody>
          {fields.map(({ field, title, of, now }) => {
            const saying = sources.filter((s) => of(s) !== null);
            const inForce =
              saying.find((s) => s.sourceId === choices[field]) ?? saying.find((s) => !s.isVariant) ?? saying[0];
            return (
              <tr key={field}>
                <td className={ui.second}>{title}</td>
                <td className={ui.num}>
                  <b>{now(keyword) ?? '–'}</b>
                </td>
                <td className={ui.second}>
                  {saying.length === 0 ? (
                    field === 'intent' && keyword.intentToldBy ? (
                      `guessed from “${keyword.intentToldBy}”`
                    ) : (
                      'no source knows it'
                    )
                  ) : (
                    <>
                      <Select
                        size="small"
                        variant="borderless"
                        className={ui.atMost}
                        popupMatchSelectWidth={false}
                        aria-label={`Source of ${title.toLowerCase()}`}
                        value={choices[field] ?? 0}
                        options={[
                          { value: 0, label: `newest: ${inForce ? inForce.label : ''}` },
                          ...saying.map((s) => ({ value: s.sourceId, label: `chosen: ${of(s)}, ${s.label}` })),
                        ]}
                        onChange={(sourceId: number) =>
                          choose.mutate({ field, sourceId: sourceId === 0 ? null : sourceId })
                        }
                      />
                    </>
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <ByHand keywordId={keywordId} />
      <h3>{counted(sources.length, 'source')}</h3>
      <table className={ui.facts}>
        <tbody>
          {sources.map((s) => (
            <tr key={s.sourceId}>
              <td>
                {s.label} <span className={ui.quiet}>{sourceNouns[s.kind!]}</span>
                <div className={ui.quiet}>
                  {moment(s.saidAt)}
                  {s.isVariant && `, of “${s.phrase}”, which was merged`}
                </div>
              </td>
              <td className={`${ui.num} ${ui.second}`}>
                {[
                  s.volume !== null && `volume ${number(s.volume)}`,
                  s.difficulty !== null && `difficulty ${decimal(s.difficulty, 0)}`,
                  s.impressions !== null && `${number(s.impressions)} impressions`,
                ]
                  .filter(Boolean)
                  .join(', ') || 'no numbers'}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {variants.length > 0 && (
        <>
          <h3 className={ui.spaced}>Close variants</h3>
          <p>The same words in another form or order. Volumes are not added when they are merged.</p>
          {variants.map((v) => (
            <div key={v.id} className={ui.line}>
              <Link to={`/keywords?id=${v.id}`}>{v.phrase}</Link> <span className={ui.quiet}>{number(v.volume)}</span>
            </div>
          ))}
          <div className={ui.acts}>
            <Button size="small" loading={merge.isPending} onClick={() => merge.mutate(variants.map((v) => v.id))}>
              Merge into this one
            </Button>
          </div>
        </>
      )}
      <hr />
      <ResultListPart keywordId={keywordId} />
    </>
  );
}

const ByHand = ({ keywordId }: { keywordId: number }) => (
  <ChangeForm
    values={{ volume: null as number | null }}
    change={({ volume }) =>
      answer(
        api.PUT('/api/keywords/{id}/value', {
          params: { path: { id: keywordId } },
          body: { volume, difficulty: null, intent: null },
        }),
      )
    }
    done={() => 'Your value is used.'}
    act="Use it"
    isReady={(form) => form.volume !== null}
    isPlain
    isLine
    isSmall
    clears={['volume']}
  >
    <Form.Item name="volume">
      <InputNumber
        min={0}
        precision={0}
        aria-label="Your own volume"
        placeholder="your own volume"
        className={ui.short}
      />
    </Form.Item>
  </ChangeForm>
);
