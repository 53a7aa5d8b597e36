import { Box } from '@chakra-ui/react';
import Markdown from 'react-markdown';

/** What of CommonMark notes may use: no pictures, no HTML, links to the web alone. */
const ALLOWED = ['p', 'strong', 'em', 'a', 'ul', 'ol', 'li', 'code', 'br'];

/** A note with simple formatting. Loaded when a form has one. */
export default function Words({ text }: { text: string }) {
  return (
    <Box
      css={{
        '& p + p, & ul, & ol': { marginTop: '6px' },
        '& ul': { listStyle: 'disc', paddingInlineStart: '20px' },
        '& ol': { listStyle: 'decimal', paddingInlineStart: '20px' },
        '& a': { color: 'slate', textDecoration: 'underline' },
      }}
    >
      <Markdown
        allowedElements={ALLOWED}
        unwrapDisallowed
        skipHtml
        components={{
          a: ({ href, children }) => (
            <a href={href} target="_blank" rel="noreferrer noopener">
              {children}
            </a>
          ),
        }}
      >
        {text}
      </Markdown>
    </Box>
  );
}
