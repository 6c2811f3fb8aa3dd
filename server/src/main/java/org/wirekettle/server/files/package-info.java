/** Files that go with messages, and those that came with answers. */
@org.jspecify.annotations.NullMarked
package org.wirekettle.server.files;
