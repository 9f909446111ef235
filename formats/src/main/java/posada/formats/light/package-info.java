/** Baked light in files: docs/baked-light.md. */
package posada.formats.light;
