import js from '@eslint/js';
import globals from 'globals';

export default [
    { ignores: ['public/', 'vendor/', 'var/'] },
    js.configs.recommended,
    {
        files: ['resources/js/**/*.js'],
        languageOptions: { globals: globals.browser },
        rules: {
            eqeqeq: 'error',
            'no-var': 'error',
            'prefer-const': 'error',
            'no-shadow': 'error',
            'no-unused-vars': ['error', { args: 'none' }],
            // One listener for each kind of event: see events.js.
            'no-restricted-syntax': ['error', { selector: 'CallExpression[callee.object.name="document"][callee.property.name="addEventListener"]', message: 'Use on() of events.js.' }],
        },
    },
    { files: ['resources/js/events.js'], rules: { 'no-restricted-syntax': 'off' } },
    { files: ['tests/JavaScript/**/*.js', '*.config.js'], languageOptions: { globals: globals.node } },
];
