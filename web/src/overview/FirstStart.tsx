import { Button } from 'antd';
import { useNavigate } from 'react-router';
import { answer, api } from '../api/client';
import { useChange, useProject } from '../api/hooks';
import styles from './overview.module.css';
import ui from '../pieces/ui.module.css';

/** The ways into an empty project. */
export function FirstStart() {
  const navigate = useNavigate();
  const project = useProject().data;
  const load = useChange(
    () => answer(api.POST('/api/demo', {})),
    () => 'The demo is being loaded.',
  );
  return (
    <div className={styles.first}>
      <h2>Start in one of three ways</h2>
      <section>
        <h3>From your domain</h3>
        <p>Name the site and its market, and let Jade Orchard read its sitemap or follow its links.</p>
        <Button type="primary" onClick={() => void navigate('/site?pane=settings')}>
          Name the site
        </Button>
      </section>
      <section>
        <h3>From files</h3>
        <p>Import what you have: keywords, result lists, a page list, or search performance, as CSV, TSV or XLSX.</p>
        <div className={ui.line}>
          <Button onClick={() => void navigate('/keywords?pane=import')}>Import keywords</Button>
          <Button onClick={() => void navigate('/results?pane=import')}>Import result lists</Button>
        </div>
      </section>
      <section>
        <h3>From the demo</h3>
        <p>
          An invented shop for sea kayaks with 2,400 keywords, 220 pages and their troubles, to look around in. It fills
          this project.
        </p>
        <Button
          disabled={!project?.canLoadDemo}
          title={project?.canLoadDemo ? undefined : 'Start with ./run --empty to load the demo'}
          loading={load.isPending}
          onClick={() => load.mutate(undefined)}
        >
          Load the demo
        </Button>
      </section>
    </div>
  );
}
