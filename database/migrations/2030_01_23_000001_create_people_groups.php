<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Database\Schema\Blueprint;
use Illuminate\Support\Facades\Schema;

return new class extends Migration
{
    public function up(): void
    {
        Schema::create('people_groups', function (Blueprint $table): void {
            $table->id();
            $table->string('name', 100)->unique();
            $table->timestamps(6);
        });
        Schema::create('people_group_members', function (Blueprint $table): void {
            $table->foreignId('people_group_id')->constrained()->cascadeOnDelete();
            $table->foreignId('user_id')->constrained()->cascadeOnDelete();
            $table->primary(['people_group_id', 'user_id']);
            $table->index('user_id');
        });
        Schema::table('change_rights', function (Blueprint $table): void {
            $table->foreignId('people_group_id')->nullable()->after('role')->constrained()->cascadeOnDelete();
        });
    }

    public function down(): void
    {
        Schema::table('change_rights', function (Blueprint $table): void {
            $table->dropConstrainedForeignId('people_group_id');
        });
        Schema::dropIfExists('people_group_members');
        Schema::dropIfExists('people_groups');
    }
};
