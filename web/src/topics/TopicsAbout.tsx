import { useQuery } from '@tanstack/react-query';
import { answer, api } from '../api/client';
import { useChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { counted, decimal, number } from '../pieces/format';
import { Failed, Reading } from '../pieces/States';
import ui from '../pieces/ui.module.css';

/** The level above the topics, where there are many. */
export function Themes({ select }: { select: (topic: number) => void }) {
  const themes = useQuery({ queryKey: keyOf('themes'), queryFn: () => answer(api.GET('/api/topics/themes')) });
  if (themes.isError) return <Failed error={themes.error} retry={() => void themes.refetch()} />;
  if (!themes.data) return <Reading />;
  if (themes.data.length === 0) return null;
  return (
    <>
      <h2>{counted(themes.data.length, 'theme')} above the topics</h2>
      {themes.data.slice(0, 12).map((theme) => (
        <p key={theme.topics[0]!.id}>
          {theme.topics.map((t, i) => (
            <span key={t.id}>
              {i > 0 && ', '}
              <button className={`${ui.chip} ${ui.quiet}`} onClick={() => select(t.id)}>
                {t.name}
              </button>
            </span>
          ))}
          {theme.count > theme.topics.length && ` and ${number(theme.count - theme.topics.length)} more`}
          <span className={ui.quiet}> {counted(theme.demand, 'search', 'searches')} a month</span>
        </p>
      ))}
      <hr />
    </>
  );
}

/** How fine topics are, with what other resolutions would make of the clusters. */
export function Resolutions() {
  const preview = useQuery({
    queryKey: keyOf('resolutions'),
    queryFn: () => answer(api.GET('/api/topics/resolutions')),
  });
  const gather = useChange(
    (resolution: number) => answer(api.POST('/api/topics/gather', { params: { query: { resolution } } })),
    () => 'Topics rebuilt.',
  );
  if (preview.isError) return <Failed error={preview.error} retry={() => void preview.refetch()} />;
  if (!preview.data) return <Reading />;
  const { resolution, rows } = preview.data;
  if (rows.length === 0) return null;
  return (
    <>
      <h2>Broader or narrower topics</h2>
      <p>A higher resolution makes more and smaller topics, whose clusters share more.</p>
      <table className={ui.facts}>
        <thead>
          <tr>
            <th className={ui.num}>Resolution</th>
            <th className={ui.num}>Topics</th>
            <th className={ui.num} title="Topics of a single cluster">
              Alone
            </th>
            <th className={ui.num} title="Clusters of the largest topic">
              Largest
            </th>
            <th>About</th>
            <th aria-label="Use" />
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.resolution}>
              <td className={ui.num}>{decimal(row.resolution, 2)}</td>
              <td className={ui.num}>{number(row.topics)}</td>
              <td className={ui.num}>{number(row.alone)}</td>
              <td className={ui.num}>{number(row.largest)}</td>
              <td>{row.example}</td>
              <td className={ui.num}>
                {row.resolution === resolution ? (
                  <span className={ui.quiet}>in use</span>
                ) : (
                  <button className={ui.chip} disabled={gather.isPending} onClick={() => gather.mutate(row.resolution)}>
                    use
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
