import { Button, Form, Input } from 'antd';
import { ChangeForm } from './ChangeForm';

/** Asks why something is decided; Escape goes back to the list. */
export const ReasonForm = <TAnswer,>({
  question,
  placeholder,
  act,
  change,
  done,
  close,
}: {
  question: string;
  placeholder: string;
  act: string;
  change: (reason: string) => Promise<TAnswer>;
  done?: (answer: TAnswer) => string | undefined;
  close: () => void;
}) => (
  <ChangeForm
    values={{ reason: '' }}
    change={(form) => change(form.reason)}
    {...(done && { done })}
    act={act}
    acts={<Button onClick={close}>Cancel</Button>}
    isReady={(form) => form.reason.trim() !== ''}
    close={close}
  >
    <Form.Item name="reason" label={question}>
      <Input autoFocus placeholder={placeholder} />
    </Form.Item>
  </ChangeForm>
);
