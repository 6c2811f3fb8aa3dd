package org.wirekettle.server.common;

import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** Which folders servers on this database use. */
@Mapper
public interface FolderMapper {
    @Insert("""
        INSERT INTO server_folder (folder, beat) VALUES (#{folder}, now())
        ON CONFLICT (folder) DO UPDATE SET beat = now()\
        """)
    void beat(@Param("folder") String folder);

    @Select("""
        SELECT count(*) FROM server_folder WHERE folder <> #{folder}
        AND beat > now() - #{seconds} * interval '1 second'\
        """)
    int others(@Param("folder") String folder, @Param("seconds") int seconds);
}
