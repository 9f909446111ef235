/**
 * Render settings and surroundings as JSON, documented in {@code docs/settings.md}. Uses {@code
 * core}; nothing of other formats but pictures of surroundings.
 */
package posada.formats.settings;
