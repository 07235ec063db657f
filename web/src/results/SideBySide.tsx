import { useQuery } from '@tanstack/react-query';
import { answer, api } from '../api/client';
import { keyOf } from '../api/keys';
import { Failed, Reading } from '../pieces/States';
import { ComparedLists } from './ComparedLists';

/** The newest result lists of two keywords. */
export function SideBySide({ a, b }: { a: number; b: number }) {
  const view = useQuery({
    queryKey: keyOf('side-by-side', a, b),
    queryFn: () => answer(api.GET('/api/results/side-by-side', { params: { query: { a, b } } })),
  });
  if (view.isError) return <Failed error={view.error} retry={() => void view.refetch()} />;
  if (!view.data) return <Reading />;
  return (
    <>
      <h2>Two keywords side by side</h2>
      <p>
        1st: <b>{view.data.beforeLabel}</b>
        <br />
        2nd: <b>{view.data.afterLabel}</b>
      </p>
      <ComparedLists view={view.data} />
    </>
  );
}
