import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useNavigate } from 'react-router';
import { answer, api } from '../api/client';
import { useChange } from '../api/hooks';
import { keyOf } from '../api/keys';

/** Makes the brief of a cluster, or opens the one that it has. */
export function BriefButton({ clusterId }: { clusterId: number }) {
  const navigate = useNavigate();
  const make = useChange(
    () => answer(api.POST('/api/briefs', { body: { clusterIds: [clusterId] } })),
    (made) => {
      void navigate(`/briefs?id=${made.ids[0]}`);
      return 'Brief made.';
    },
  );
  const brief = useQuery({
    queryKey: keyOf('cluster brief', clusterId),
    queryFn: () => answer(api.GET('/api/clusters/{id}/brief', { params: { path: { id: clusterId } } })),
  });
  const briefId = brief.data?.id;
  return briefId ? (
    <Button onClick={() => void navigate(`/briefs?id=${briefId}`)}>Open the brief</Button>
  ) : (
    <Button loading={make.isPending || brief.isPending} onClick={() => make.mutate(undefined)}>
      Make the brief
    </Button>
  );
}

/** Opens the text of a page next to what is asked of it. */
export function CheckPageButton({ pageId }: { pageId: number }) {
  const navigate = useNavigate();
  return <Button onClick={() => void navigate(`/briefs?page=${pageId}`)}>Check its text</Button>;
}
