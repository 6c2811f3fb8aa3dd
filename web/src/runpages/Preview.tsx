import { useState } from 'react';
import type { PageForm } from '../api/types';
import { AskForm } from './AskForm';
import { Frame } from './Frame';
import { begun, type Values } from './values';
import css from './RunPage.module.css';

/** A page as it will look on a phone, while it is made. */
export function Preview({ form }: { form: PageForm }) {
  const [values, setValues] = useState<Values>({});
  return (
    <div className={css.phone}>
      <Frame form={form}>
        <AskForm form={form} values={{ ...begun(form.fields), ...values }} set={setValues} problems={{}} />
      </Frame>
    </div>
  );
}
