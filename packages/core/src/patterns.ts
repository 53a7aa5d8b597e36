import { RE2JS, RE2JSException } from 're2js';
import { providePatterns } from './rules/patterns';

/** Patterns by re2js, whose engine never goes back over a text. Loading this file provides them. */
providePatterns({
  read(pattern) {
    try {
      const compiled = RE2JS.compile(pattern);
      return { ok: true, test: (text) => compiled.testExact(text) };
    } catch (error) {
      if (!(error instanceof RE2JSException)) throw error;
      return { ok: false, why: error.message.replace(/^error parsing regexp: /, '') };
    }
  },
});
