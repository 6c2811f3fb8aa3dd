/** The command line: contracts read, examples made, messages checked, without server or database. */
package org.wirekettle.cli;
