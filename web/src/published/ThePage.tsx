import type { EndpointView, PageTrigger } from '../api/types';
import { ErrorText } from '../common/ui';
import { useRested } from '../common/useRested';
import { useFlows } from '../flows';
import { Preview } from '../runpages';
import type { EndpointDraft } from './endpoint';
import { Links } from './Links';
import { usePageForm } from './queries';
import { PageAnswers, PageFailures, PageHead, PageInputs, PageReaders } from './RunPageFields';
import css from './ThePage.module.css';

interface Props {
  draft: EndpointDraft;
  page: PageTrigger;
  kept?: EndpointView;
}

const RESTS_MS = 300;

const useForm = ({ draft, page, kept }: Props) =>
  usePageForm(draft.flow, draft.environment, useRested(page, RESTS_MS), kept?.version);

/** A page on which colleagues ask the flow: its words, what is asked, what is shown. */
export function ThePage({ draft, page, kept, set }: Props & { set: (by: Partial<EndpointDraft>) => void }) {
  const form = useForm({ draft, page, kept });
  const flow = useFlows().data?.find((f) => f.id === draft.flow);
  const received = flow?.definition.steps.find((s) => s.kind === 'receive');
  const inputs = kept?.inputs ?? received?.inputs ?? [];
  const to = (changed: PageTrigger) => set({ page: changed });
  return (
    <>
      <PageHead page={page} set={to} />
      <PageInputs page={page} set={to} inputs={inputs} />
      <PageAnswers page={page} set={to} form={form.data} />
      <PageFailures page={page} set={to} />
      <PageReaders page={page} set={to} />
      {kept && <Links of={kept} />}
    </>
  );
}

/** The page as colleagues will see it. */
export function PagePreview({ draft, page, kept }: Props) {
  const form = useForm({ draft, page, kept });
  return (
    <div className={css.preview}>
      <div className="row">
        <h3>As it looks on a phone</h3>
        <span className="push" />
        {kept && (
          <a href={kept.url} target="_blank" rel="noreferrer">
            open the page
          </a>
        )}
      </div>
      <ErrorText error={form.error} />
      {form.data && <Preview key={form.dataUpdatedAt} form={form.data} />}
      {draft.flow === undefined && (
        <p className="soft">Choose the flow first: its inputs are what the page asks for.</p>
      )}
    </div>
  );
}
