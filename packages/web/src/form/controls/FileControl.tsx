import { Button, HStack, Link, Text } from '@chakra-ui/react';
import type { FileView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { fileIdOf, fileNameOf, fileProblem, fileText, sayProblem } from '@varn/core';
import { Paperclip, X } from 'lucide-react';
import { useRef, useState } from 'react';
import { request, sayError } from '../../api/client';
import type { ControlProps } from './controlProps';

const PICTURES = '.png,.jpg,.jpeg,.gif,.webp';
const PICTURE_NAME = /\.(?:png|jpe?g|gif|webp)$/i;

/** A file: sent at once, so that a submit waits for nothing; a picture is shown small. */
export function FileControl(props: ControlProps) {
  const { fieldId, details, text, readOnly, labelId, describedBy, workbookId, onText } = props;
  const input = useRef<HTMLInputElement>(null);
  const [state, setState] = useState<{ is: 'idle' | 'sending' | 'refused'; says: string }>({
    is: 'idle',
    says: '',
  });
  const fileId = fileIdOf(text);
  const name = fileNameOf(text);

  const send = async (file: File): Promise<void> => {
    const type = file.type === '' && PICTURE_NAME.test(file.name) ? 'image/' : file.type;
    const problem = fileProblem({ name: file.name, type, bytes: file.size }, details);
    if (problem) {
      setState({ is: 'refused', says: sayProblem(problem) });
      return;
    }
    setState({ is: 'sending', says: `Sending ${file.name}…` });
    try {
      const kept = await request<FileView>('POST', paths.files(workbookId, file.name), file);
      onText(fileText(kept.id, kept.name));
      setState({ is: 'idle', says: '' });
    } catch (error) {
      setState({ is: 'refused', says: sayError(error) });
    }
  };

  return (
    <div>
      <HStack gap="2" wrap="wrap">
        <Button
          size="sm"
          variant="outline"
          bg="leaf"
          borderColor="edge"
          data-field={fieldId}
          aria-labelledby={labelId}
          aria-describedby={describedBy}
          disabled={readOnly || state.is === 'sending'}
          onClick={() => input.current?.click()}
        >
          <Paperclip size={14} aria-hidden />
          {text === '' ? 'Choose a file' : 'Choose another'}
        </Button>
        <input
          ref={input}
          type="file"
          hidden
          accept={details.accepts === 'images' ? PICTURES : undefined}
          onChange={(event) => {
            const [file] = event.target.files ?? [];
            event.target.value = '';
            if (file) void send(file);
          }}
        />
        {fileId !== null && (
          <>
            {PICTURE_NAME.test(name) && (
              <img src={paths.file(workbookId, fileId)} alt="" height={36} style={{ height: 36 }} />
            )}
            <Link href={paths.file(workbookId, fileId)} target="_blank" rel="noreferrer">
              {name}
            </Link>
            <Button
              size="2xs"
              variant="ghost"
              aria-label={`Take ${name} off`}
              disabled={readOnly}
              onClick={() => onText('')}
            >
              <X size={13} aria-hidden />
            </Button>
          </>
        )}
      </HStack>
      <Text role="status" fontSize="12.5px" color={state.is === 'refused' ? 'madder' : 'ink.soft'}>
        {state.says}
      </Text>
    </div>
  );
}
