/** Quick films of a sequence: their recipe, what is written over them, and making them. */
package posada.formats.preview;
