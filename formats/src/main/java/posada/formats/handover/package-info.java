/** What is passed on to the next person, and the check that all of it is there. */
package posada.formats.handover;
