/** Runs: started, followed, stopped and resumed; their account, trails and set-aside records. */
package org.wirekettle.server.runs;
