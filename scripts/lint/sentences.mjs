// A lint rule of our own: engines return facts, and one room (`english`) makes the sentences. Where it holds, no text of four words or more stands.

const MAX_WORDS = 3;

/** Words of letters in a text; what is put into a template is none. */
export function wordsOf(text) {
  return text.split(/\s+/).filter((word) => /\p{L}{2}/u.test(word)).length;
}

const textOf = (node) =>
  node.type === 'TemplateLiteral' ? node.quasis.map(({ value }) => value.cooked ?? value.raw).join(' ') : node.value;

const noSentence = {
  meta: { type: 'problem' },
  create(context) {
    // The titles of tests are sentences.
    if (/\.test\.ts$/.test(context.filename)) return {};
    const look = (node) => {
      const text = textOf(node);
      if (typeof text !== 'string' || wordsOf(text) <= MAX_WORDS) return;
      if (isError(node.parent)) return;
      context.report({
        node,
        message: `"${text.slice(0, 40)}": this room makes no sentences. Return a fact, and say it in english/.`,
      });
    };
    return { Literal: look, TemplateLiteral: look };
  },
};

/** What is thrown at a mistake of ours is read by nobody else. */
function isError(parent) {
  return parent?.type === 'NewExpression' && parent.callee?.name === 'Error';
}

export default { meta: { name: 'sentences' }, rules: { none: noSentence } };
