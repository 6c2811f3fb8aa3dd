/** Run pages: a plain form on which colleagues ask a flow, and what they see of its answer. */
package org.wirekettle.trigger.page;
