/**
 * Render settings and the environment as JSON, documented in {@code docs/settings.md}. Uses {@code
 * core}; nothing of other formats but pictures of an environment.
 */
package posada.formats.settings;
