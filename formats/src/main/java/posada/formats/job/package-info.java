/**
 * Rendering a strand's frames to files: a frozen document and a scene's files in, files and figures
 * out. Used by the command line and by workers alike; knows no database and no queue.
 */
package posada.formats.job;
