package dasein.app.store;

import java.time.OffsetDateTime;
import java.util.List;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** Keys to the programming interface. */
@Mapper
public interface ApiTokenMapper {
    record Key(long id, String name, OffsetDateTime created, OffsetDateTime used) {}

    @Insert("insert into api_token (name, hash) values (#{name}, #{hash})")
    void add(@Param("name") String name, @Param("hash") String hash);

    @Select("select id, name, created, used from api_token where revoked is null order by id")
    List<Key> open();

    @Select("select id, name, created, used from api_token where hash = #{hash} and revoked is null")
    Key of(String hash);

    /** Told once a minute at most: scripts ask often. */
    @Update(
            "update api_token set used = now() where id = #{id} and (used is null or used < now() - interval '1 minute')")
    int used(long id);

    @Update("update api_token set revoked = now() where id = #{id} and revoked is null")
    int revoke(long id);
}
