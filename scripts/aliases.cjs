/** The short names of folders, for tools that resolve imports as a bundler does. */
const { join } = require('node:path');
const src = (name) => join(__dirname, '..', 'src', name);

module.exports = { resolve: { alias: { $core: src('core'), $lib: src('lib') } } };
