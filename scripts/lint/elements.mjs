// Rules of our own for the linter: one look and one behaviour for everything that is pressed, filled in and pointed at.

/** Raw elements that are pressed or filled in. */
const rawElements = {
  create: (context) => ({
    JSXOpeningElement({ name }) {
      if (name.type === 'JSXIdentifier' && /^(button|input|select|textarea)$/.test(name.name))
        context.report({
          node: name,
          message:
            'Use what src/ui/components has for it: TextButton, PlainButton, PlainInput, PlainSelect, CheckBox, Choices, form/*.',
        });
    },
  }),
};

/** `title` on a raw element: nobody reaches it by keyboard. */
const titleHints = {
  create: (context) => ({
    JSXAttribute({ name, parent }) {
      if (name.name === 'title' && parent.name.type === 'JSXIdentifier' && /^[a-z]/.test(parent.name.name))
        context.report({ node: name, message: 'Say more with <Hint words=…>: it works by keyboard too.' });
    },
  }),
};

export default { meta: { name: 'elements' }, rules: { 'raw-elements': rawElements, 'title-hints': titleHints } };
